# frozen_string_literal: true

module Yenvo
  module Store
    # Changes of the house itself by administrators: its name, how it writes money and numbers, and its working
    # calendar. What hangs on the calendar is counted before, and moved after it by jobs.
    class CalendarChanges < Base
      include CalendarForm
      include FormWords
      include Saving

      MOST_DAYS_OFF = Core::CalendarFile::MAX_STRETCHES
      # So many timers, and tasks, are looked at to say how many would move.
      MOST_COUNTED = 20_000
      YEARS = (1900..2200)

      # @param seen [Integer, nil] epoch of the set-up on which the change rests
      def initialize(root, seen: nil)
        super(root)
        @seen = seen
      end

      # @return [Hash{String => Object}] name, currency (ISO 4217), number_form, zone, hours, holidays, days_off, as
      #   they are kept
      def now = HouseSettings::SHOWN.to_h { |name, usual| [name, setting(name, usual)] }

      # @param given [Hash{String => Object}] all of +now+, as a form has it
      # @param redate [Boolean] whether open tasks move that are due on a day which is off then
      # @return [Hash, nil] the job that moves tasks
      # @raise [Refused, Conflict]
      def save_house(given, cause:, redate: false)
        settings = read(given)
        job = nil
        save(cause, %w[settings], retime: moves?(settings)) do
          settings.each { |name, value| root.setup_store.set(name, value) }
          job = root.jobs.redate(cause:) if redate
        end
        job
      end

      # What saving would move.
      # @param given [Hash{String => Object}] as +save_house+
      # @return [Hash{Symbol => Integer, Boolean}] timers, tasks, and whether there may be more
      # @raise [Refused]
      def preview(given, now:)
        thought = root.imagining(*root.setup_store.with_settings(read(given)))
        timers, more = thought.upkeep.moving(now:, most: MOST_COUNTED)
        tasks = root.task_rows.due_after(calendar.date_of(now)).limit(MOST_COUNTED + 1).select_map(:due_on)
        {
          timers:, tasks: tasks.first(MOST_COUNTED).count { |day| !thought.calendar.working_day?(day) },
          more: more || tasks.size > MOST_COUNTED
        }
      end

      # @param given [Hash{String => Object}] as +save_house+
      # @return [Array<Hash>] date and why, of each day of a year on which nobody works though the weekday is one of
      #   work; and of the weekdays none
      def days_off(given, year)
        raise Refused.at("year" => "The year lies between 1900 and 2200.") unless YEARS.cover?(year)

        thought = root.setup_store.with_settings(read(given))[1]
        (Date.new(year, 1, 1)..Date.new(year, 12, 31)).filter_map do |date|
          why = thought.off_because(date) or next
          {date: date.iso8601, why:, weekly: !thought.works_on?(date.wday)}
        end
      end

      # @param text [String] a calendar file
      # @return [Core::CalendarFile::Found]
      # @raise [Refused]
      def read_file(text, today:)
        Core::CalendarFile.read(text, today:)
      rescue Core::Unreadable => error
        refuse("file", error.message)
      end

      private

      def setting(name, usual) = root.setup_store.setting(name, usual)

      def read(given)
        {
          "name" => text(given["name"], "name", "The name of the house", 80),
          "currency" => currency(given["currency"]).code,
          "number_form" => number_form(given["number_form"]), "zone" => zone(given["zone"]),
          "hours" => hours(given["hours"]), "holidays" => holidays(given["holidays"]),
          "days_off" => free(given["days_off"])
        }
      end

      def number_form(given) =
        Core::Numbers::FORMS.key?(given) ? given : refuse("number_form", "Numbers have a point or a comma.")

      def free(given)
        rows = given.is_a?(Array) ? given : []
        refuse("days_off", "A calendar holds #{MOST_DAYS_OFF} days off.") if rows.size > MOST_DAYS_OFF
        rows.map { |row| free_days(row) }.sort_by { |row| row.values_at("from", "name") }
      end

      def free_days(row)
        name = text(row["name"], "days_off", "What a day off is called", 80)
        from, to = %w[from to].map { |end_of| free_day(row[end_of] || row["from"], name) }
        refuse("days_off", "“#{name}” ends on or after the day it begins.") if to < from
        longest = Core::CalendarFile::LONGEST
        refuse("days_off", "“#{name}” has at most #{longest} days.") if to - from >= longest
        {"from" => from.iso8601, "to" => to.iso8601, "name" => name, "yearly" => row["yearly"] == true}
      end

      def free_day(given, name)
        day = Core::Reading::DATE.match?(given.to_s[0, 20]) ? Date.iso8601(given) : raise(Date::Error)
        YEARS.cover?(day.year) ? day : raise(Date::Error)
      rescue Date::Error
        refuse("days_off", "“#{name}” has a first and a last day between 1900 and 2200, such as 2026-12-24.")
      end

      # Whether dates may come out otherwise.
      def moves?(settings) = %w[zone hours holidays days_off].any? { |name| settings[name] != now[name] }
    end
  end
end
