# frozen_string_literal: true

require "thor"
require "yenvo/boot"

module Yenvo
  # The command line: rule files checked, tried and published, and the processes that make up a running Yenvo.
  # Exit codes: 0 all well, 1 something is wrong with a file or the settings, 2 the call was wrong.
  class CLI < Thor
    package_name "yenvo"

    def self.exit_on_failure? = true

    desc "check FILE...", "Check rule files: form, fields, values, branches that can never match"
    long_desc "Names every problem with its line and place. Exits with 1 when a file has any. With --form-only no database is needed: whether fields and persons exist is then not looked at."
    method_option :form_only, type: :boolean, desc: "look at the form alone, without a database"
    def check(*paths)
      none_given if paths.empty?
      exit 1 unless paths.map { |path| sound?(path) }.all?
    end

    desc "try FILE", "Run a rule file on live records and say what it would do; writes nothing"
    method_option :rows, type: :numeric, default: 20, desc: "how many records to list"
    def try(path)
      rule = read(path) or exit 1
      compiled = bind(path, rule) or exit 1
      found = Engine::Trying.new(root, compiled, who: nil, now: clock.now).over
      say summary(found)
      found.rows.first(options[:rows]).each { |row| say format("%-10s %-30s %s", row["branches"].empty? ? "-" : row["branches"].join(","), row["title"][0, 30], row["why"]) }
    end

    desc "publish FILE", "Publish a rule file as a new version of the rule of that name, or as a new rule"
    method_option :as, type: :string, required: true, banner: "PERSON", desc: "key of the administrator who publishes, such as maren"
    def publish(path)
      rule = read(path) or exit 1
      who = root.people.find(options[:as])
      fail_with("There is no administrator #{options[:as].inspect}.") unless who && who[:role] == "administrator"
      cause = Store::Journal::Cause.person(who[:key], clock.now)
      row = root.rules.by_name(rule.name) || root.rules.make(rule, cause: cause)
      version = root.rules.publish(row[:id], rule, cause: cause)
      say "Published “#{rule.name}” as version #{version[:number]}. Old records are not touched."
    rescue Core::InvalidRule => error
      report(path, Core::RuleFile.place(File.read(path), error.problems))
      exit 1
    end

    desc "schema", "Print the JSON Schema of rule files"
    def schema = say(JSON.pretty_generate(Core::RuleSchema.to_h))

    desc "worker", "Run a worker until it is told to stop (TERM or INT)"
    def worker
      worker = Boot.worker(ENV)
      %w[TERM INT].each { |signal| trap(signal) { worker.stop } }
      worker.run
    end

    desc "receiver", "Run the stand-in for a receiver of web calls until it is told to stop"
    method_option :port, type: :numeric, default: 9393
    def receiver
      require "puma"
      server = Puma::Server.new(Standins::WebReceiver.new(clock: clock))
      server.add_tcp_listener("127.0.0.1", options[:port])
      %w[TERM INT].each { |signal| trap(signal) { server.stop } }
      say "http://127.0.0.1:#{options[:port]}"
      server.run.join
    end

    desc "migrate", "Bring the tables of the database up to date"
    def migrate = root.migrate

    desc "demo", "Load the demo data into an empty database"
    method_option :bare, type: :boolean, desc: "only people, kinds of records and fields"
    def demo
      fail_with("The database holds data already; the demo goes into an empty one.") unless root.db[:people].empty?
      require File.expand_path("../../demo/load", __dir__)
      SemanticLogger.default_level = :warn
      Demo.load(root, now: clock.now, bare: options[:bare])
    end

    no_commands do
      def root = @root ||= Store::Root.open(ENV["DATABASE_URL"] || fail_with("DATABASE_URL must be given, or bin/start must have run once."), connections: 2)

      def clock = @clock ||= Clock.new(start: ENV["YENVO_CLOCK"])

      def sound?(path)
        rule = read(path) or return false
        return say("#{path}: the form is right") || true if options[:form_only]

        problems = Core::Checks.run(rule, root.schema)
        return say("#{path}: can be published") || true if problems.empty?

        report(path, Core::RuleFile.place(File.read(path), problems))
        false
      end

      def read(path)
        Core::RuleFile.parse(File.binread(path))
      rescue SystemCallError => error
        warn "#{path}: cannot be read: #{error.message}"
      rescue Core::InvalidRule => error
        report(path, error.problems)
      end

      def bind(path, rule)
        compiled, problems = Core::CompiledRule.bind(rule, root.schema, id: root.rules.by_name(rule.name)&.fetch(:id))
        compiled || report(path, Core::RuleFile.place(File.read(path), problems))
      end

      def report(path, problems) = problems.each { |problem| warn "#{path}: #{problem}" } && nil

      def summary(found)
        runs = found.counts.except("skip").map { |label, count| "#{(label == "otherwise") ? label : "branch #{label}"}: #{count}" }
        "#{found.looked_at} #{(found.looked_at == 1) ? "record" : "records"} looked at; #{runs.empty? ? "none would run" : runs.join(", ")}#{"; more were not looked at" if found.rest}"
      end

      def fail_with(sentence)
        warn sentence
        exit 1
      end

      def none_given
        warn "Name at least one rule file."
        exit 2
      end
    end
  end
end
