# frozen_string_literal: true

require "fileutils"
require "json"
require "thor"
require "yenvo/boot"

module Yenvo
  # The command line: rule files checked, tried and published, and the processes that make up a running Yenvo.
  # Exit codes: 0 all well, 1 something is wrong with a file or the settings, 2 the call was wrong.
  class CLI < Thor
    package_name "yenvo"

    def self.exit_on_failure? = true

    desc "check FILE...", "Check rule files: form, fields, values, branches that can never match"
    long_desc "Names every problem with its line and place, and every gap and overlap between branches. Exits with 1 when a file has a problem. With --form-only no database is needed: whether fields and persons exist is then not looked at."
    method_option :form_only, type: :boolean, desc: "look at the form alone, without a database"
    method_option :json, type: :boolean, desc: "print one JSON document instead of sentences"
    def check(*paths)
      none_given if paths.empty?
      finish(paths.map { |path| checked(path) })
    end

    desc "try FILE...", "Run rule files on live records and say what they would do; writes nothing"
    method_option :rows, type: :numeric, default: 20, desc: "how many records to list"
    method_option :json, type: :boolean, desc: "print one JSON document instead of sentences"
    def try(*paths)
      none_given if paths.empty?
      finish(paths.map { |path| tried(path) })
    end

    desc "publish FILE...", "Publish rule files, each as a new version of the rule of that name, or as a new rule"
    long_desc "All files are checked first. When one has a problem, none is published."
    method_option :as, type: :string, required: true, banner: "PERSON", desc: "key of the administrator who publishes, such as maren"
    method_option :json, type: :boolean, desc: "print one JSON document instead of sentences"
    def publish(*paths)
      none_given if paths.empty?
      who = root.people.find(options[:as])
      fail_with("There is no administrator #{options[:as].inspect}.") unless who && who[:role] == "administrator"
      found = paths.map { |path| checked(path) }
      return finish(found.map { |one| one.merge(lines: one[:problems].any? ? [] : ["not published, since another file has problems"]) }) if found.any? { |one| one[:problems].any? }

      cause = Store::Journal::Cause.person(who[:key], clock.now)
      finish(root.transaction { paths.map { |path| published(path, cause) } })
    end

    desc "export [NAME...]", "Write rules as files, into a folder or to standard output"
    method_option :to, type: :string, banner: "FOLDER", desc: "one file for each rule, named by its key"
    method_option :json, type: :boolean, desc: "JSON instead of YAML"
    def export(*names)
      rows = root.rules.all
      rows = names.map { |name| rows.find { |row| [row[:name], row[:key]].include?(name) } || fail_with("There is no rule #{name.inspect}.") } if names.any?
      rows.each { |row| write_out(row) }
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

      # @return [Hash] file, problems, notes, lines: what to say of it when all is well
      def checked(path)
        rule, problems = read(path)
        return {file: path, problems: problems, notes: [], lines: []} unless rule
        return {file: path, problems: [], notes: [], lines: ["the form is right"]} if options[:form_only]

        problems, notes = Core::Checks.look(rule, root.schema)
        {file: path, problems: Core::RuleFile.place(File.read(path), problems), notes: notes, lines: ["can be published", *notes.map { |note| "#{note["kind"]}: #{note["text"]}" }]}
      end

      def tried(path)
        rule, problems = read(path)
        compiled, problems = Core::CompiledRule.bind(rule, root.schema, id: root.rules.by_name(rule.name)&.fetch(:id)) if rule
        return {file: path, problems: rule ? Core::RuleFile.place(File.read(path), problems) : problems, lines: []} unless compiled

        found = Engine::Trying.new(root, compiled, who: nil, now: clock.now).over
        rows = found.rows.first(options[:rows])
        lines = rows.map { |row| format("%-10s %-30s %s", row["branches"].empty? ? "-" : row["branches"].join(","), row["title"][0, 30], row["why"]) }
        {file: path, problems: [], looked_at: found.looked_at, counts: found.counts, rows: rows, lines: [summary(found), *lines]}
      end

      def published(path, cause)
        rule = Core::RuleFile.parse(File.binread(path))
        row = root.rules.by_name(rule.name) || root.rules.make(rule, cause: cause)
        version = root.rules.publish(row[:id], rule, cause: cause)
        {file: path, problems: [], rule: row[:key], version: version[:number], lines: ["“#{rule.name}” is published as version #{version[:number]}. Old records are not touched."]}
      end

      def write_out(row)
        rule = root.rules.draft_of(row)
        text = options[:json] ? "#{JSON.pretty_generate(rule.to_h)}\n" : Core::RuleFile.dump(rule)
        return say(text, nil, false) unless options[:to]

        FileUtils.mkdir_p(options[:to])
        path = File.join(options[:to], "#{row[:key]}.#{options[:json] ? "json" : "yml"}")
        File.write(path, text)
        say path
      end

      # Says what came of the files, and exits with 1 when one had a problem.
      def finish(found)
        wrong = found.any? { |one| one[:problems].any? }
        if options[:json] then say(JSON.pretty_generate(ok: !wrong, files: found.map { |one| one.except(:lines).merge(problems: one[:problems].map(&:to_h)) }))
        else found.each { |one| tell(one, found.size > 1) }
        end
        exit 1 if wrong
      end

      def tell(one, many)
        one[:problems].each { |problem| warn "#{one[:file]}: #{problem}" }
        one[:lines].each_with_index { |line, index| say((many || index.zero?) ? "#{one[:file]}: #{line}" : line) }
      end

      # @return [Array(Core::Rule, Array)] the rule, or nil and its problems
      def read(path)
        [Core::RuleFile.parse(File.binread(path)), []]
      rescue SystemCallError => error
        [nil, [Core::Problem.at([], "cannot be read: #{error.message}")]]
      rescue Core::InvalidRule => error
        [nil, error.problems]
      end

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
