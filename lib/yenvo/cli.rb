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

    desc "check FILE...", "Check rule and kit files: form, fields, values, branches that can never match"
    long_desc "Names every problem with its line and place, and every gap and overlap between branches. Exits with " \
      "1 when a file has a problem. With --form-only no database is needed: whether fields and persons exist is " \
      "then not looked at."
    method_option :form_only, type: :boolean, desc: "look at the form alone, without a database"
    method_option :json, type: :boolean, desc: "print one JSON document instead of sentences"
    def check(*paths) = each_file(paths) { |path| checked(path) }

    desc "try FILE...", "Run rule files on live records and say what they would do; writes nothing"
    method_option :rows, type: :numeric, default: 20, desc: "how many records to list"
    method_option :json, type: :boolean, desc: "print one JSON document instead of sentences"
    def try(*paths) = each_file(paths) { |path| tried(path) }

    desc "publish FILE...",
      "Publish rule and kit files, each as a new version of the rule or kit of that name, or as a new one"
    long_desc "Kits go before rules, in the order they are named. All files are checked first; a rule that uses a " \
      "kit of the same call is checked after that kit. When one has a problem, none is published. With YENVO_URL and " \
      "YENVO_TOKEN a house elsewhere is asked; there, kits are published before the rules are checked."
    method_option :as,
      type: :string, banner: "PERSON",
      desc: "key of the administrator who publishes, such as maren; in a house elsewhere the token says who"
    method_option :json, type: :boolean, desc: "print one JSON document instead of sentences"
    def publish(*paths)
      none_given if paths.empty?
      return finish(publish_there(paths.partition { |path| kit?(path) })) if remote

      fail_with("Say who publishes: --as and the key of an administrator.") unless options[:as]
      who = root.people.find(options[:as])
      fail_with("There is no administrator #{options[:as].inspect}.") unless who && who[:role] == "administrator"
      finish(
        publish_all(paths.partition { |path| kit?(path) }.flatten, Store::Journal::Cause.person(who[:key], time.now))
      )
    rescue Core::Error => error
      fail_with(error.message)
    end

    desc "export [NAME...]", "Write rules and kits as files, into a folder or to standard output"
    method_option :to, type: :string, banner: "FOLDER", desc: "one file for each rule, named by its key"
    method_option :json, type: :boolean, desc: "JSON instead of YAML"
    def export(*names)
      return export_there(names) if remote

      all = [root.rules, root.kits].flat_map { |store| store.all.map { |row| [store, row] } }
      if names.any?
        all =
          names.map do |name|
            all.find { |_, row| [row[:name], row[:key]].include?(name) } ||
              fail_with("There is no rule or kit #{name.inspect}.")
          end
      end
      all.each { |store, row| write_out(store, row) }
      words = "took out rules and kits as files, by the command line: #{all.map { |_, row| row[:name] }.join(", ")}"
      root.audit.note("taken_out", words, who: nil, at: time.now)
    rescue Core::Error => error
      fail_with(error.message)
    end

    desc "schema [rule|kit|names]", "Print the JSON Schema of rule or kit files, or the names in them as TypeScript"
    def schema(of = "rule")
      case of
      when "rule" then say(JSON.pretty_generate(Core::RuleSchema.to_h))
      when "kit" then say(JSON.pretty_generate(Core::Kits::KitSchema.to_h))
      when "names" then say(Core::Vocabulary.type_script)
      else fail_with("There is a schema of rules, one of kits, and the names in them; #{of.inspect} is neither.")
      end
    end

    desc "web", "Answer on HOST and PORT until it is told to stop (TERM or INT)"
    def web
      require "puma/cli"
      Dir.chdir(File.expand_path("../..", __dir__))
      Puma::CLI.new(["--config", "config.puma.rb", "config.ru"]).run
    end

    desc "worker", "Run a worker until it is told to stop (TERM or INT)"
    def worker
      both = [Boot.worker(ENV), Boot.sender(ENV)]
      %w[TERM INT].each { |signal| trap(signal) { both.each(&:stop) } }
      sending = Thread.new { both[1].run }
      both[0].run
      sending.join
    end

    desc "clock",
      "Move the clock of the demo forward, with everything that comes due on the way; without options say how it stands"
    long_desc "Everything fires in order, each at its own moment, as if the days had passed. Refused outside the " \
      "demo. The clock is shown on every page while it is moved; it cannot be set back, for what happened has " \
      "happened: bin/start --fresh begins anew."
    method_option :days, type: :numeric, desc: "so many days on"
    method_option :to,
      type: :string, banner: "DATE", desc:
        "to a date such as 2026-12-31, or a moment such as 2026-12-31T09:00, by the wall clock of the yard"
    method_option :brief, type: :boolean, desc: "do not say what happens on the way"
    def clock
      fail_with("The clock can be moved in the demo alone; this database is none.") unless root.moved_clock.allowed?
      SemanticLogger.default_level = :warn
      moving = Engine::MovingClock.new(root, time)
      return say(moving.words) unless options[:days] || options[:to]

      to = moving.target(days: options[:days], to: options[:to])
      moving.go(to) { |moment, line| say("#{moving.show(moment)}  #{line}") unless options[:brief] }
      say moving.words
    rescue Core::Error => error
      fail_with(error.message)
    end

    desc "mail", "Take one mail (RFC 5322) from standard input, as a mail server hands it on"
    long_desc "Exits as mail servers know it (sysexits.h): 0 taken, 65 it cannot be read, 67 nobody takes mail at " \
      "that address, 75 bring it again later. Each mail counts once, however often it is brought."
    method_option :to, type: :string, banner: "ADDRESS",
      desc: "for whom the mail server brings it; without it, all whom the mail names"
    def mail
      SemanticLogger.default_level = :warn
      row = Boot.postbox(ENV).take($stdin.binmode.read(Core::LetterReader::MOST_BYTES + 1).to_s, to: options[:to])
      warn(row[:reason]) if row[:reason]
      exit(Store::Letters.code(row))
    rescue Core::Unreadable => error
      fail_with(error.message, 65)
    rescue SystemStackError
      fail_with("It cannot be read: its parts stand within each other too deep.", 65)
    rescue => error
      Store::Breakage::LOG.error("A mail could not be taken", error)
      fail_with("It could not be taken just now; bring it again later.", 75)
    end

    desc "standins", "Run the stand-ins for a mail server, a board and the program of an office until told to stop"
    method_option :port, type: :numeric, default: 9393
    method_option :mail_port, type: :numeric, default: 9325
    method_option :hands_on, type: :string, banner: "ADDRESS,ADDRESS", default: "",
      desc: "the mail server hands on to Yenvo what is sent to these"
    def standins
      require "puma"
      handing = Standins::Handing.new(options[:hands_on].split(","), [File.expand_path($PROGRAM_NAME), "mail", "--to"])
      street = Standins::Street.new(clock: Clock.new(start: ENV["YENVO_CLOCK"]), mail_port: options[:mail_port],
        house: ENV["YENVO_ADDRESS"], handing:)
      street.start
      server = Puma::Server.new(street)
      server.add_tcp_listener("127.0.0.1", options[:port])
      %w[TERM INT].each { |signal| trap(signal) { server.stop } }
      say "http://127.0.0.1:#{options[:port]}"
      server.run.join
      street.stop
    end

    desc "migrate", "Bring the tables of the database up to date"
    def migrate = root.migrate

    desc "code", "Print the address at which an empty house is opened, with a one-time code that is good for an hour"
    method_option :at, type: :string, banner: "ADDRESS", desc: "where Yenvo answers, such as https://desk.example.org"
    def code
      say "#{address}/open##{root.opening.new_code(now: time.now)}"
    end

    desc "open", "Open an empty house, for scripts; the first administrator's password comes from standard input"
    method_option :name, type: :string, required: true, desc: "what the house is called"
    method_option :zone, type: :string, required: true, desc: "time zone, such as Europe/Riga"
    method_option :hours,
      type: :string, default: "1-5 09:00-17:00",
      desc: "days (1 for Monday) and hours, several by commas: \"1-4 08:00-17:00, 5 08:00-15:00\""
    method_option :holidays, type: :string, desc: "region whose public holidays are off, such as lv"
    method_option :currency, type: :string, default: "EUR", desc: "code of ISO 4217"
    method_option :person, type: :string, required: true, desc: "name of the first administrator"
    method_option :email, type: :string, required: true, desc: "with which they sign in"
    def open
      given = options.slice("name", "zone", "holidays", "currency").merge(
        "hours" => hours(options[:hours]),
        "person" => {"name" => options[:person], "email" => options[:email], "password" => $stdin.gets.to_s.chomp}
      )
      key = root.opening.open_house(given, now: time.now)
      say "#{options[:name]} is open. #{options[:person]} (#{key}) can sign in."
    end

    desc "password E-MAIL", "Print a one-time link, good for an hour, with which somebody chooses a new password"
    method_option :at, type: :string, banner: "ADDRESS", desc: "where Yenvo answers, such as https://desk.example.org"
    def password(email)
      require "yenvo/web"
      one = root.db[:people].where(email:, active: true).first
      fail_with("Nobody who works here signs in with #{email.inspect}.") unless one
      root.secret = Settings.load(ENV).session_secret
      say "#{address}#{Web::SignIn.link(Web::SignIn.for(root), email, 3_600)}"
    end

    desc "demo", "Load the demo data into an empty database"
    method_option :bare, type: :boolean, desc: "only people, kinds of records and fields"
    method_option :anew, type: :boolean,
      desc: "live the six months of its story again and keep them in demo/story.jsonl.gz, which takes some minutes"
    def demo
      fail_with("The database holds data already; the demo goes into an empty one.") unless root.db[:people].empty?
      require File.expand_path("../../demo/load", __dir__)
      SemanticLogger.default_level = :warn
      return Demo.keep(root, now: time.now) if options[:anew]

      unless options[:bare] || Demo::Kept.fits?
        say "The demo or the tables have changed since its story was kept; it is lived anew, which takes some minutes."
      end
      Demo.load(root, now: time.now, bare: options[:bare])
    end

    no_commands do
      def root =
        @root ||=
          Store::Root.open(
            ENV["DATABASE_URL"] || fail_with("DATABASE_URL must be given, or bin/start must have run once."),
            connections: 2
          )

      def time = @time ||= Clock.new(start: ENV["YENVO_CLOCK"], moved: root.moved_clock)

      # @yieldparam path [String]
      # @yieldreturn [Hash] what came of the file
      def each_file(paths, &)
        none_given if paths.empty?
        finish(paths.map(&))
      rescue Core::Error => error
        fail_with(error.message)
      end

      # @return [String] where Yenvo answers
      def address = (options[:at] || "http://127.0.0.1:#{ENV.fetch("PORT", "9292")}").delete_suffix("/")

      # @param text [String] such as "1-4 08:00-17:00, 5 08:00-15:00"
      # @return [Array<Hash>] as the set-up takes them
      def hours(text)
        text.split(",").flat_map do |part|
          days, from, to = part.match(/\A\s*([1-7](?:-[1-7])?)\s+(\S+?)-(\S+)\s*\z/)&.captures
          fail_with("The hours are written like \"1-5 09:00-17:00\"; #{part.strip.inspect} is not.") unless days
          first, last = days.split("-").map(&:to_i)
          (first..(last || first)).map { |day| {"day" => day, "from" => from, "to" => to} }
        end
      end

      # @return [Hash] file, problems, notes, lines: what to say of it when all is well
      def checked(path)
        rule, problems = read(path)
        return {file: path, problems:, notes: [], lines: []} unless rule
        return {file: path, problems: [], notes: [], lines: ["the form is right"]} if options[:form_only]

        problems, notes = remote ? remote.check(rule) : look(rule)
        {
          file: path, problems: Core::RuleFile.place(File.read(path), problems), notes:,
          lines: ["can be published", *notes.map { |note| "#{note["kind"]}: #{note["text"]}" }]
        }
      end

      def look(rule)
        return Core::Checks.look(rule, root.schema) unless rule.is_a?(Core::Kits::Kit)

        Core::Kits::Checks.look(rule, root.schema, key: root.kits.by_name(rule.name)&.fetch(:key))
      end

      # @return [Remote, nil] the house elsewhere, where one is named
      def remote
        return unless ENV["YENVO_URL"]

        @remote ||= Remote.new(ENV["YENVO_URL"], ENV["YENVO_TOKEN"] || fail_with("YENVO_TOKEN must be given, too."))
      rescue Core::Error => error
        fail_with(error.message)
      end

      def tried(path)
        rule, problems = read(path)
        if rule.is_a?(Core::Kits::Kit)
          return (
            {
              file: path, problems: [Core::Problem.at([], "is a kit; kits are tried on a record, on their sheet")],
              lines: []
            }
          )
        end

        return tried_there(path, rule) if rule && remote

        if rule
          compiled, problems =
            Core::CompiledRule.bind(rule, root.schema, id: root.rules.by_name(rule.name)&.fetch(:id))
        end
        unless compiled
          return {file: path, problems: rule ? Core::RuleFile.place(File.read(path), problems) : problems, lines: []}
        end

        found = Engine::Trying.new(root, compiled, who: nil, now: time.now).over
        told(path, found.looked_at, found.counts, found.rows, found.rest)
      end

      def told(path, looked_at, counts, rows, rest)
        rows = rows.first(options[:rows])
        lines =
          rows.map do |row|
            format(
              "%-10s %-30s %s", row["branches"].empty? ? "-" : row["branches"].join(","), row["title"][0, 30],
              row["why"]
            )
          end
        {file: path, problems: [], looked_at:, counts:, rows:, lines: [summary(looked_at, counts, rest), *lines]}
      end

      def tried_there(path, rule)
        answer = remote.try(rule)
        return told(path, *answer.values_at("looked_at", "counts", "rows", "next")) unless answer["problems"]

        {file: path, problems: Core::RuleFile.place(File.read(path), remote.check(rule)[0]), lines: []}
      end

      # Kits first; a rule is checked against those that were published before it.
      def publish_there(parts)
        found = []
        parts.each do |paths|
          looked = paths.map { |path| checked(path) }
          wrong = (found + looked).any? { |one| one[:problems].any? }
          found += wrong ? looked.map { |one| held_back(one) } : paths.map { |path| published_there(path) }
        end
        found
      end

      def held_back(one) =
        one.merge(lines: one[:problems].any? ? [] : ["not published, since another file has problems"])

      def published_there(path)
        rule, = read(path)
        done = remote.publish(rule)
        return {file: path, problems: done[:problems], notes: [], lines: []} if done[:problems].any?

        lines = ["“#{rule.name}” is published as version #{done[:number]}."]
        {file: path, problems: [], key: done[:key], version: done[:number], lines:}
      end

      def export_there(names)
        all = remote.all
        chosen =
          names.map do |name|
            all.find { |_, row| row.values_at("name", "key").include?(name) } ||
              fail_with("There is no rule or kit #{name.inspect}.")
          end
        (names.any? ? chosen : all).each do |noun, row|
          write_file(noun == "kit", row["key"], remote.written(noun, row["id"]))
        end
      end

      # One after the other in one transaction, so that a rule is checked against the kits that came before it.
      def publish_all(paths, cause)
        found = []
        root.transaction do
          paths.each do |path|
            looked = checked(path)
            found << (looked[:problems].any? ? looked.merge(lines: []) : published(path, cause))
            # What was published is part of what the next file is checked against.
            root.forget
          end
          raise Sequel::Rollback if found.any? { |one| one[:problems].any? }
        end
        return found if found.none? { |one| one[:problems].any? }

        found.map do |one|
          one.slice(:file, :problems).merge(
            notes: [], lines: one[:problems].any? ? [] : ["not published, since another file has problems"]
          )
        end
      end

      def published(path, cause)
        rule, = read(path)
        store = rule.is_a?(Core::Kits::Kit) ? root.kits : root.rules
        row = store.by_name(rule.name) || store.make(rule, cause:)
        version = store.publish(row[:id], rule, cause:)
        {
          :file => path, :problems => [], store.noun.to_sym => row[:key], :version => version[:number],
          :lines => ["“#{rule.name}” is published as version #{version[:number]}. #{said_of(store, version)}"]
        }
      end

      def said_of(store, version)
        timed = store.noun == "rule" && root.in_force.compiled([version[:id]])[version[:id]]&.timing
        timed ? "A worker builds its timers; moments that are past do not fire." : "Old records are not touched."
      end

      def write_out(store, row) = write_file(store.noun == "kit", row[:key], store.draft_of(row))

      def write_file(kit, key, rule)
        file = kit ? Core::Kits::KitFile : Core::RuleFile
        text, ending = options[:json] ? ["#{JSON.pretty_generate(rule.to_h)}\n", "json"] : [file.dump(rule), "yml"]
        folder = options[:to] or return say(text, nil, false)

        FileUtils.mkdir_p(folder)
        path = File.join(folder, "#{"kit-" if kit}#{key}.#{ending}")
        File.write(path, text)
        say path
      end

      # Says what came of the files, and exits with 1 when one had a problem.
      def finish(found)
        wrong = found.any? { |one| one[:problems].any? }
        if options[:json]
          say(
            JSON.pretty_generate(
              ok: !wrong, files: found.map { |one| one.except(:lines).merge(problems: one[:problems].map(&:to_h)) }
            )
          )
        else
          found.each { |one| tell(one, found.size > 1) }
        end
        exit 1 if wrong
      end

      def tell(one, many)
        one[:problems].each { |problem| warn "#{one[:file]}: #{problem}" }
        one[:lines].each_with_index { |line, index| say((many || index.zero?) ? "#{one[:file]}: #{line}" : line) }
      end

      def kit?(path) = File.file?(path) && Core::Kits::KitFile.kit?(File.read(path, encoding: "UTF-8").scrub)

      # @return [Array(Core::Rule, Array)] the rule or kit, or nil and its problems
      def read(path)
        [(kit?(path) ? Core::Kits::KitFile : Core::RuleFile).parse(File.binread(path)), []]
      rescue SystemCallError => error
        [nil, [Core::Problem.at([], "cannot be read: #{error.message}")]]
      rescue Core::InvalidRule => error
        [nil, error.problems]
      end

      def summary(looked_at, counts, rest)
        runs =
          counts.except("skip")
            .map { |label, count| "#{(label == "otherwise") ? label : "branch #{label}"}: #{count}" }
        "#{Core::Show.some(looked_at, "record")} looked at; " \
        "#{runs.empty? ? "none would run" : runs.join(", ")}#{"; more were not looked at" if rest}"
      end

      def fail_with(sentence, code = 1)
        warn sentence
        exit code
      end

      def none_given
        warn "Name at least one rule file."
        exit 2
      end
    end
  end
end
