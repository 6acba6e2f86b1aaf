# frozen_string_literal: true

require "json"
require "net/http"

module Yenvo
  # A house elsewhere, as the command line reaches it: by its address and a token (YENVO_URL, YENVO_TOKEN). It answers
  # what the command line asks of a database of its own.
  class Remote
    # Seconds: to be reached, and to answer.
    PATIENCE = [10, 120].freeze

    # @param url [String] such as https://desk.example.org
    # @param token [String]
    def initialize(url, token)
      @base = URI(url.delete_suffix("/"))
      @token = token
      raise ArgumentError unless @base.is_a?(URI::HTTP) && @base.host
    rescue URI::InvalidURIError, ArgumentError
      raise Core::Error, "YENVO_URL is no address; write one such as https://desk.example.org."
    end

    # @param written [Core::Rule, Core::Kits::Kit]
    # @return [Array(Array<Core::Problem>, Array<Hash>)] problems and notes
    def check(written)
      answer =
        if kit?(written)
          send_json(:post, "/api/kits/check", kit: written.to_h, key: kit_row(written.name)&.fetch("key"))
        else
          send_json(:post, "/api/try/check", rule: written.to_h)
        end
      [problems(answer), answer["notes"].to_a]
    end

    # @param rule [Core::Rule]
    # @return [Hash] as the API answers: looked_at, counts, rows, next; or problems
    def try(rule) = send_json(:post, "/api/try", rule: rule.to_h, rule_id: rule_row(rule.name)&.fetch("id"))

    # Publishes a rule or kit as a new version of that of its name, or as a new one.
    # @return [Hash] key, number (of the version), or problems (Array of Core::Problem)
    def publish(written)
      noun = kit?(written) ? "kit" : "rule"
      row = kit?(written) ? kit_row(written.name) : rule_row(written.name)
      row ||= send_json(:post, "/api/#{noun}s", noun => written.to_h)
      answer = send_json(:post, "/api/#{noun}s/#{row["id"]}/publish", noun => written.to_h)
      found = problems(answer)
      return {problems: found} if found.any?

      {problems: [], key: row["key"], number: answer["versions"].map { |version| version["number"] }.max}
    end

    # @return [Array<Array(String, Hash)>] "rule" or "kit", and id, key and name of each
    def all =
      [
        *send_json(:get, "/api/rules")["rules"].map { |row| ["rule", row] },
        *send_json(:get, "/api/kits")["kits"].map { |row| ["kit", row] }
      ]

    # @return [Core::Rule, Core::Kits::Kit] the draft, or what is in force
    def written(noun, id)
      return Core::Kits::KitReader.read!(send_json(:get, "/api/kits/#{id}")["kit"]) if noun == "kit"

      Core::RuleFile.parse(request(:get, "/api/rule-files/#{id}", nil).body.force_encoding(Encoding::UTF_8))
    end

    private

    def kit?(written) = written.is_a?(Core::Kits::Kit)
    def rule_row(name) = send_json(:get, "/api/rules")["rules"].find { |row| row["name"] == name }
    def kit_row(name) = send_json(:get, "/api/kits")["kits"].find { |row| row["name"] == name }

    def problems(answer) =
      answer["problems"].to_a.map { |one| Core::Problem.new(**one.except("where").transform_keys(&:to_sym)) }

    # @return [Hash] the answer; also of a refusal that names problems
    # @raise [Core::Error] with the sentence of any other refusal
    def send_json(method, path, body = nil)
      response = request(method, path, body)
      answer = JSON.parse(response.body)
      return answer if response.is_a?(Net::HTTPSuccess) || answer["problems"]

      raise Core::Error, answer["error"] || "#{@base} answered #{response.code}."
    rescue JSON::ParserError
      raise Core::Error, "What answers at #{@base} is no Yenvo (#{response.code}). Look at YENVO_URL."
    end

    def request(method, path, body)
      call = Net::HTTP.const_get(method.to_s.capitalize).new("#{@base.path}#{path}")
      call["authorization"] = "Bearer #{@token}"
      call["content-type"] = "application/json" if body
      call.body = JSON.generate(body) if body
      Net::HTTP.start(@base.host, @base.port, **options) { |http| http.request(call) }
    rescue SystemCallError, SocketError, Timeout::Error, OpenSSL::SSL::SSLError, EOFError => error
      raise Core::Error, "#{@base} cannot be reached (#{error.class.name.split("::").last}). Nothing was sent twice."
    end

    def options
      open_timeout, read_timeout = PATIENCE
      {use_ssl: @base.scheme == "https", open_timeout:, read_timeout:, max_retries: 0}
    end
  end
end
