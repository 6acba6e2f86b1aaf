# frozen_string_literal: true

require "json_schemer"
require "yaml"

module Yenvo
  module Web
    # Holds calls and answers to openapi.yaml (OpenAPI 3.1, JSON Schema 2020-12).
    class Contract
      SOURCE = File.read(File.expand_path("../openapi.yaml", __dir__))
      DOCUMENT = YAML.safe_load(SOURCE, aliases: true)

      # One call of the description: its path as written there, its method, and what it takes.
      Operation =
        Core::Value.define(:path, :method, :parts, :plain) do
          # @return [Hash{String => Hash}] what its address takes, by name
          def query
            (plain["parameters"] || []).select { |one| one["in"] == "query" }.to_h { |one| [one["name"], one] }
          end
        end

      # @param document [Hash]
      def initialize(document)
        @document = document
        @openapi = JSONSchemer.openapi(document)
        @operations =
          document["paths"].flat_map do |path, calls|
            calls.slice("get", "post", "put", "patch", "delete")
              .map { |method, plain| Operation.new(path:, method:, parts: path.split("/"), plain:) }
          end
        @by_shape = @operations.group_by { |operation| [operation.method, operation.parts.size] }
        @schemas = {}
        @lock = Mutex.new
      end

      attr_reader :operations

      # @return [Operation, nil]
      def find(method, path)
        parts = path.split("/")
        @by_shape.fetch([method.downcase, parts.size], [])
          .select { |operation| operation.parts.zip(parts).all? { |want, got| want.start_with?("{") || want == got } }
          .min_by { |operation| operation.parts.count { |part| part.start_with?("{") } }
      end

      # @param body [Object] parsed JSON
      # @return [Array<String>] what is wrong with the body of a call
      def request_problems(operation, body)
        body_of_call = operation.plain["requestBody"] or return []
        problems(
          (
            if body_of_call["$ref"]
              "#{body_of_call["$ref"]}/content/application~1json/schema"
            else
              pointer(operation, "requestBody")
            end
          ),
          body
        )
      end

      # What begins so names a field of the house.
      FIELDS = %w[where. from. to. holds. is.].freeze
      private_constant :FIELDS

      # @param query [Hash{String => String}]
      # @return [Array<String>] what is wrong with the query of a call
      def query_problems(operation, query)
        known = operation.query
        unknown =
          query.keys.reject do |name|
            known.key?(name) || known.key?("#{name[/\A[a-z_]+(?=\[)/]}[]") || name.start_with?(*FIELDS)
          end
        wrong = unknown.map { |name| "There is no setting #{name[0, 60].inspect} in this address." }
        wrong + known.filter_map { |name, one| query_problem(one, query[name]) }
      end

      # @return [Array<String>] what is wrong with an answer
      def answer_problems(operation, status, body)
        answer = operation.plain["responses"][status.to_s] or
          return ["#{operation.method} #{operation.path} describes no answer #{status}"]
        return [] unless answer["$ref"] || answer.dig("content", "application/json")

        at =
          (
            if answer["$ref"]
              "#{answer["$ref"]}/content/application~1json/schema"
            else
              pointer(operation, "responses/#{status}")
            end
          )
        problems(at, body)
      end

      private

      def query_problem(one, value)
        return (one["required"] ? "The address must say #{one["name"]}." : nil) if value.nil?

        schema = one["schema"]
        if schema["type"] == "string" && value.is_a?(String) && value.size <= schema.fetch("maxLength", 500) &&
            (!schema["enum"] || schema["enum"].include?(value))
          return
        end
        return if schema["type"] == "integer" && value.is_a?(String) && value.match?(/\A\d{1,18}\z/)

        "#{one["name"]} in the address must be #{
          if schema["enum"]
            "one of #{schema["enum"].join(", ")}"
          else
            (
              if schema["type"] == "integer"
                "a whole number"
              else
                "a text of at most #{schema.fetch("maxLength", 500)} characters"
              end
            )
          end
        }."
      end

      # A JSON pointer within an address (RFC 6901, sections 3 and 6).
      POINTED = {"~" => "~0", "/" => "~1", "{" => "%7B", "}" => "%7D"}.freeze
      private_constant :POINTED

      def pointer(operation, rest)
        path = operation.path.gsub(%r{[~/{}]}, POINTED)
        "#/paths/#{path}/#{operation.method}/#{rest}/content/application~1json/schema"
      end

      def problems(pointer, body)
        schema = @lock.synchronize { @schemas[pointer] ||= @openapi.ref(pointer) }
        schema.validate(body).first(8).map { |error| sentence(error) }
      end

      def sentence(error)
        at = error["data_pointer"].delete_prefix("/").tr("/", ".")
        said = error["error"].sub(/ at `[^`]*`/, "")
        said = "is not known here" if said == "object property is a disallowed additional property"
        "#{at.empty? ? "The body" : at}: #{said}"
      end
    end
  end
end
