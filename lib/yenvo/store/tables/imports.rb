# frozen_string_literal: true

require "csv"
require "fileutils"
require "securerandom"

module Yenvo
  module Store
    # Tables that are brought in, from the file to what was written: each is read and looked at before anything is
    # written, written by a worker bit by bit, and can be taken back for a week.
    class Imports < Base
      keeps :imports

      MOST_BYTES = 200_000_000
      # Tables of one person that are not forgotten, and their bytes together.
      MOST_OF_PERSON = 20
      MOST_OF_ALL = 1_000_000_000
      DAYS = 7
      PAGE = 50
      SAMPLE = 5
      MOST_COLUMNS = 200
      # The states from which each step leads on.
      FROM = {
        "write" => %w[read looked], "looking" => %w[read looked], "running" => %w[looked stopped],
        "undoing" => %w[done stopped undone_partly]
      }.freeze
      UNDER_WAY = %w[looking running undoing].freeze
      JOBS = {"looking" => "table_look", "running" => "table_in", "undoing" => "table_undo"}.freeze
      NO_COUNTS = {"made" => 0, "changed" => 0, "same" => 0, "refused" => 0}.freeze

      # Keeps a file, and guesses how it is read and what goes where.
      # @param from [IO] its bytes
      # @return [Hash] row
      # @raise [Refused]
      def add(kind, name, from, cause:)
        type = schema.kind(kind) || refuse("kind", "There is no such kind of record.")
        not_too_many(cause)
        file = SecureRandom.hex(24)
        size = keep(file, from)
        form = Core::TableForm.guess(TableFile.sample(path(file)))
        columns = {name: plain_name(name), kind: type.key, file:, size:, by: cause.who, at: cause.at, state: "read"}
        find!(table.insert(**columns, plan: dump(guessed(type, file, form))))
      rescue
        FileUtils.rm_f(path(file)) if file
        raise
      end

      # @return [Hash] row
      # @raise [NotFound]
      def find!(id) = table.where(id:).first || raise(NotFound, "There is no such table.")

      # @return [Array<Hash>] of a person, the newest first
      def of(person, limit: PAGE) = table.where(by: person).reverse(:id).limit(limit).all

      # @return [Core::TablePlan, Array<Core::Problem>]
      # @param seen [Core::Schema] as whoever brings it in sees it
      def plan(row, seen = schema)
        Core::TablePlan.read(load(row[:plan]), seen.kind(row[:kind]) || gone, seen)
      end

      def gone = refuse("kind", "The list that it is for was taken away.")
      private :gone

      # @return [TableFile]
      # @raise [Refused] once it is forgotten
      def file(row, form) = TableFile.new(path(row[:file] || refuse("file", FORGOTTEN)), form)
      FORGOTTEN = "The file is forgotten after #{DAYS} days; bring it in anew.".freeze
      private_constant :FORGOTTEN

      # What the columns are called, and the first rows.
      # @return [Array(Array<String>, Array<Array<String>>)]
      def sample(row)
        return [[], []] unless row[:file]

        file = file(row, Core::TableForm.read(load(row[:plan])["form"]))
        [file.heads.first(MOST_COLUMNS), file.bit(place: 0, line: 0, limit: SAMPLE + 1).rows.first(SAMPLE).map(&:cells)]
      end

      # Changes how it is read and what goes where; another form is guessed anew.
      # @param given [Hash] form, map and empties
      # @raise [Refused]
      def write(id, given)
        step(id, "write") do |row|
          plain = reread(row, load(row[:plan]), given["form"])
          table.where(id:).update(plan: dump(plain.merge(given.slice("map", "empties"))), state: "read", looked: nil)
        end
        find!(id)
      rescue Core::Unreadable => error
        refuse("form", error.message)
      end

      # Has a worker look at every row, or write them, or take back what was written.
      # @param state [String] one of UNDER_WAY
      # @raise [Refused] while it is under way, or where it cannot be
      def begin(id, state, cause:, rules: nil)
        step(id, state) do |row|
          refuse_problems(plan(row)[1]) unless state == "undoing"
          total = total(row, state)
          job = root.jobs.begin_for_house(JOBS.fetch(state), "Table “#{row[:name]}”", total, {"import" => id}, cause)
          forget_look(id) if state == "looking"
          columns = {state:, job_id: job[:id], ended_at: nil, failed: nil}
          columns[:rules] = rules unless rules.nil?
          columns.merge!(place: 0, line: 0, looked: nil) if state == "looking"
          columns.merge!(place: 0, line: 0, written: dump(NO_COUNTS)) if state == "running" && row[:state] == "looked"
          refusals(id).delete if state == "running" && row[:state] == "looked"
          table.where(id:).update(columns)
        end
        find!(id)
      end

      # @raise [Refused]
      def stop(id, now:)
        root.transaction do
          # The job first, as the worker does, which has to end its bit.
          job = find!(id)[:job_id]
          root.jobs.stop(job, now:) if job
          row = table.where(id:).for_update.first
          refuse("import", "It is not under way.") unless UNDER_WAY.include?(row[:state]) && row[:job_id] == job
          table.where(id:).update(state: stopped(row[:state]), ended_at: now)
        end
        find!(id)
      end

      # Ends what a job that failed was about.
      # @param error [StandardError]
      def failed(job_id, error, now:)
        row = table.where(job_id:, state: UNDER_WAY).first or return
        words = error.is_a?(Core::Error) ? error.message : BROKE
        table.where(id: row[:id]).update(state: stopped(row[:state]), ended_at: now, failed: words[0, 500])
      end
      BROKE = "Yenvo could not go on; whoever runs it finds why in the log."

      # Forgets one at once: its file, its rows, and with them what could be taken back.
      # @raise [Refused, NotFound]
      def forget!(id)
        root.transaction do
          row = table.where(id:).for_update.first || find!(id)
          refuse("import", SAID.fetch(row[:state])) if UNDER_WAY.include?(row[:state])
          forget(row) if row[:file]
        end
        find!(id)
      end

      # Forgets tables with which records came that are erased.
      def forget_of(record_ids) = came_with(record_ids).exclude(file: nil).for_update.each { |row| forget(row) }

      # @return [Boolean] whether one of these is under way
      def under_way_of?(record_ids) = !came_with(record_ids).where(state: UNDER_WAY).empty?

      # @return [Sequel::Dataset] rows that were refused
      def refusals(id) = db[:import_refusals].where(import_id: id)

      # @return [Sequel::Dataset] rows that were written
      def written(id) = db[:import_rows].where(import_id: id)

      # Forgets files and rows after a week.
      # @return [Integer] how many
      def purge(now:)
        old(now).each { |row| forget(row) }.size
      end

      private

      def came_with(record_ids) = table.where(id: db[:import_rows].where(record_id: record_ids).select(:import_id))

      # A week counts from when the last of it was written.
      def old(now)
        before = now - (DAYS * 86_400)
        here = table.where { at < before }.exclude(file: nil).exclude(state: UNDER_WAY)
        here.where { Sequel.function(:coalesce, ended_at, at) < before }.limit(20).all
      end

      def step(id, what)
        root.transaction do
          row = table.where(id:).for_update.first || find!(id)
          refuse("import", SAID.fetch(row[:state], CANNOT)) unless FROM.fetch(what).include?(row[:state])
          refuse("file", FORGOTTEN) if row[:file].nil?
          yield row
        end
      end
      CANNOT = "That cannot be done now."
      SAID = {
        "looking" => "It is being looked at. Wait for that, or stop it.",
        "running" => "It is being brought in already. Wait for that, or stop it.",
        "undoing" => "It is being taken back. Wait for that, or stop it.",
        "done" => "It was brought in already. Take it back, or bring the file in anew.",
        "read" => "Look first at what it would do.", "undone" => "It was taken back. Bring the file in anew."
      }.freeze
      private_constant :CANNOT, :SAID

      # @return [Hash] the plan, guessed anew where it is read in another form
      def reread(row, plain, given)
        form = given && Core::TableForm.read(given)
        same?(form, plain["form"]) ? plain : guessed(schema.kind!(row[:kind]), row[:file], form)
      end

      def same?(form, plain) = form.nil? || form.to_h.transform_keys(&:to_s) == plain
      def stopped(state) = {"looking" => "read", "undoing" => "undone_partly"}.fetch(state, "stopped")

      def total(row, state)
        return written(row[:id]).count if state == "undoing"

        (state == "running" && looked(row)) || row[:size]
      end

      # @return [Integer, nil] rows
      def looked(row) = row[:looked] && load(row[:looked])["rows"].to_i

      def not_too_many(cause)
        count, bytes = here(cause.who).values_at(:count, :bytes)
        return if count < MOST_OF_PERSON && bytes < MOST_OF_ALL

        refuse("file", "You have #{count} tables here, which is as much as one person may. Forget one of them first.")
      end

      def here(person) = table.where(by: person).exclude(file: nil).select(*COUNTED).first
      COUNTED = [
        Sequel.function(:count).*.as(:count), Sequel.function(:coalesce, Sequel.function(:sum, :size), 0).as(:bytes)
      ].freeze
      private_constant :COUNTED

      def forget_look(id)
        refusals(id).delete
        db[:import_seen].where(import_id: id).delete
      end

      def forget(row)
        root.transaction do
          %i[import_rows import_refusals import_seen].each { |name| db[name].where(import_id: row[:id]).delete }
          table.where(id: row[:id]).update(file: nil)
          db.after_commit { FileUtils.rm_f(path(row[:file])) }
        end
      end

      def keep(file, from)
        FileUtils.mkdir_p(File.dirname(path(file)))
        size = TableFile.keep(from, path(file), most: MOST_BYTES)
        refuse("file", "The table has more than #{MOST_BYTES / 1_000_000} MB; bring it in in parts.") unless size
        refuse("file", "The file is empty.") if size.zero?
        size = cards(file, size) if Core::CardRows::BEGINS.match?(TableFile.sample(path(file)))
        refuse("file", "This is no table of text. Save it as CSV and bring that in.") if binary?(file)
        size
      end

      # Cards are brought in as the table that they are.
      def cards(file, size)
        if size > MOST_CARDS
          refuse("file", "Cards of at most #{MOST_CARDS / 1_000_000} MB are taken; bring them in in parts.")
        end
        heads, rows = Core::CardRows.read(Core::TableForm.decode(File.binread(path(file)), "UTF-8"))
        refuse("file", "There is no whole card in it.") if rows.empty?
        File.write(path(file), CSV.generate { |csv| [heads, *rows].each { |row| csv << row } })
      end
      MOST_CARDS = 20_000_000
      private_constant :MOST_CARDS

      def binary?(file) = TableFile.sample(path(file)).include?("\0")

      def guessed(type, file, form)
        table = TableFile.new(path(file), form)
        heads, rows = table.heads.first(MOST_COLUMNS), table.bit(place: 0, line: 0, limit: 100).rows.map(&:cells)
        rows = Core::TableGuess.new(type, form.header ? heads : heads.map { "" }, rows).rows
        {
          "form" => form.to_h.transform_keys(&:to_s), "empties" => false,
          "map" => {"how" => "make", "key" => nil, "types" => [], "rows" => rows}
        }
      end

      def plain_name(name) = Core::Reading.trim(seen(File.basename(name.to_s.tr("\\", "/"))))[0, 200]
      def seen(text) = text.gsub(/[[:cntrl:]\p{Cf}]/, "")

      def path(file) = File.join(root.files, "tables", file)
      include FormWords
    end
  end
end
