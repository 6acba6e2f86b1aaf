# frozen_string_literal: true

module Yenvo
  module Core
    # A DateRule tied to the schema and the working calendar.
    class BoundDate
      # From what dates of a kit may count, besides.
      KIT = %w[start target comes].freeze

      attr_reader :rule, :reference

      # @param path [Array] place in the rule, for problems
      # @param within_kit [Boolean] whether it may count from the start or target of a kit, or from when a task comes
      # @return [BoundDate, nil] nil when something is wrong
      def self.bind(rule, kind, schema, calendar, path: [], problems: [], within_kit: false)
        before = problems.size
        reference, wrong = base(rule, kind, schema, within_kit)
        step, sentence = wrong ? ["from", wrong] : misfit(rule, reference, calendar)
        problems << Problem.at([*path, step], sentence) if step
        more = {path: [*path, "otherwise"], problems:, within_kit:}
        otherwise = rule.otherwise && bind(rule.otherwise, kind, schema, calendar, **more)
        new(rule, reference, calendar, otherwise) if problems.size == before
      end

      # @return [Array(Reference, String)] the date field that it counts from, nil for none, and what is wrong with it
      def self.base(rule, kind, schema, within_kit)
        return if %w[now event].include?(rule.from) || (within_kit && KIT.include?(rule.from))

        reference, wrong = Reference.find(rule.from, kind, schema)
        return [reference, wrong] if wrong || reference.field.dated?

        [reference, "must be now, event or a date field; #{reference.label} is none"]
      end

      # @return [Array(String, String), nil] what does not fit the rest, and a sentence
      def self.misfit(rule, reference, calendar)
        units = rule.unit.tr("_", " ")
        if rule.at && rule.clocked?
          ["at", "must be left out when #{units} are counted; the time of day follows from them"]
        elsif rule.first && rule.clocked?
          ["first", "must be left out when #{units} are counted; it looks for a day"]
        elsif rule.otherwise && reference.nil?
          ["otherwise", "must stand with a date field, which may be empty; there is none here"]
        elsif calendar.idle? && (working?(rule) || rule.day_off != "stays")
          ["unit", "must count in calendar units and leave days off alone (stays); #{IDLE}"]
        end
      end

      def self.working?(rule) = rule.unit.start_with?("working") || rule.first == "working_day"
      private_class_method :base, :misfit, :working?

      IDLE = "the working calendar has no day on which anybody works"

      def initialize(rule, reference, calendar, otherwise = nil)
        @rule = rule
        @otherwise = otherwise
        @reference = reference
        @calendar = calendar
        @get = reference&.getter
        @phrase = -worded
        @minutes = rule.at && ClockTime.parse(rule.at)
        freeze
      end

      # @param facts [Facts]
      # @param now [Time]
      # @return [Due, nil] nil when the date field is empty and it is not said what then
      def work_out(facts, now:)
        anchor = anchor(facts, now)
        return @otherwise&.work_out(facts, now:) unless anchor

        rule.clocked? ? by_the_clock(anchor) : by_days(anchor)
      end

      # @return [Time, nil] the moment itself: without a time of day the start of work, or of the day where nobody works
      def moment(facts, now:)
        due = work_out(facts, now:)
        due && (due.minutes ? due.moment : day_start(due.on))
      end

      # @return [Array<Need>] what has to be loaded before it can be worked out
      def needs = [*reference&.needs, *@otherwise&.needs]

      # @return [String] such as "3 working days before Survey date"
      attr_reader :phrase

      # @return [String] why there is no date
      def missing
        return "the #{rule.from} of the kit is not known yet" unless reference

        ["#{reference.label} is empty", @otherwise&.missing].compact.join(", and ")
      end

      private

      def worded
        count = rule.count
        base =
          {
            "now" => "the run", "event" => "the event", "start" => "the start", "target" => "the target",
            "comes" => "it comes"
          }.fetch(rule.from) { reference.label }
        base = reference.label if reference
        words = count.zero? ? "on the day of #{base}" : "#{count} #{unit_words(count)} #{rule.direction} #{base}"
        words = "the first #{first_words} on or after #{count.zero? ? base : words}" if rule.first
        [words, rule.at && "at #{rule.at}", @otherwise && "(if that is empty, #{@otherwise.phrase})"].compact.join(" ")
      end

      def first_words
        return "day #{rule.first} of a month" if rule.first.is_a?(Integer)

        DateRule::WEEKDAYS.include?(rule.first) ? rule.first.capitalize : "working day"
      end

      def unit_words(count) = Span.unit_words(rule.unit, count)

      def anchor(facts, now)
        case rule.from
        when "now", "comes" then now
        when "start", "target" then reference ? dated(facts) : facts.anchor
        when "event" then facts.event.began_at
        else dated(facts)
        end
      end

      def dated(facts)
        value = @get.call(facts)
        # Kept dates are sound; Date.iso8601 would look for week dates and the like first, which is what takes longest
        # here.
        value &&
          (
            if reference.field.type == "date"
              Date.new(value[0, 4].to_i, value[5, 2].to_i, value[8, 2].to_i)
            else
              Time.iso8601(value)
            end
          )
      end

      def signed = (rule.direction == "before") ? -rule.count : rule.count

      def by_days(anchor)
        start = anchor.is_a?(Time) ? @calendar.date_of(anchor) : anchor
        date = case rule.unit
        when "days" then start + signed
        when "weeks" then start + (7 * signed)
        when "months" then @calendar.add_months(start, signed)
        when "working_days" then @calendar.add_working_days(start, signed)
        end
        settle(rule.first ? first_from(date, anchor) : date, @minutes)
      end

      # @param date [Date] from which it is looked for
      # @param anchor [Date, Time] what was counted from; of the day of a moment only what comes after it will do
      def first_from(date, anchor)
        found = next_first(date)
        late = found == date && rule.count.zero? && anchor.is_a?(Time) && @minutes &&
          @calendar.zone.at(found, @minutes) < anchor
        late ? next_first(date + 1) : found
      end

      def next_first(date)
        case rule.first
        when "working_day" then @calendar.roll(date, "later")
        when Integer then [date, date >> 1].map { |day| in_month(day) }.find { |day| day >= date }
        else date + ((DateRule::WEEKDAYS.index(rule.first) - date.wday) % 7)
        end
      end

      def in_month(date) = Date.new(date.year, date.month, [rule.first, Date.new(date.year, date.month, -1).day].min)

      def by_the_clock(anchor)
        minutes = signed * DateRule::CLOCKED.fetch(rule.unit)
        start = anchor.is_a?(Time) ? anchor : day_start(anchor)
        moment = (rule.unit == "working_hours") ? @calendar.add_working_minutes(start, minutes) : start + (minutes * 60)
        local = @calendar.zone.local(moment)
        settle(local.to_date, (local.hour * 60) + local.min)
      end

      def day_start(date) = @calendar.span(date)&.first || @calendar.zone.midnight(date)

      def settle(date, minutes)
        rolled = @calendar.roll(date, rule.day_off)
        moment = minutes ? @calendar.zone.at(rolled, minutes) : @calendar.zone.midnight(rolled + 1)
        moved = (rolled == date) ? nil : date
        Due.new(
          on: rolled, minutes:, moment:, moved_from: moved, off: moved && @calendar.off_because(date)
        )
      end
    end
  end
end
