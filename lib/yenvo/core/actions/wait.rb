# frozen_string_literal: true

module Yenvo
  module Core
    module Actions
      # Leaves the rest of the row for later: for a time, until a date, until conditions hold, or whichever of these
      # comes first, at most until a limit. Then the record is looked at again, and the rest is done only if the
      # conditions of the rule and of the row still hold.
      class Wait < Action
        AT_LIMIT = %w[go_on stop].freeze
        AHEAD = 62

        def self.takes = {"for" => :date, "date" => :date, "until" => :group, "limit" => :date, "at_limit" => :text}
        def self.words = "Wait, then look again"

        # @param since [Time] when the wait began
        # @return [Array(Time, String)] when it is over as things stand, and by what: time, date, condition or limit;
        #   with "look" it is only a moment at which to look again
        def due(facts, since:)
          found = []
          found << [@for.moment(facts, now: since), "time"] if @for
          found << [@date.moment(facts, now: since), "date"] if @date
          found << [@limit.moment(facts, now: since), "limit"] if @limit
          found.reject! { |moment, _| moment.nil? }
          last = found.map(&:first).min
          found << held(facts, last) if @until
          found.compact.min_by.with_index { |(moment, _), i| [moment, i] } || [since, "time"]
        end

        # @return [Boolean] whether the row ends where the limit comes first
        def stops?(why) = why == "limit" && settings["at_limit"] == "stop"

        def plan(facts, now:, rule_name:)
          over, = due(facts, since: now)
          [
            effect(
              Effects::LeaveRest, "Waits #{shown_words}", until_at: over,
              notes: ["looks again #{Show.moment(over, @schema.zone)} at the latest, as things stand"]
            )
          ]
        end

        def shown = "Wait #{shown_words}"

        # @return [Array<Need>] what has to be loaded before it can be asked how long it lasts
        def needs_to_wait = @needs

        private

        # The first moment at which the conditions hold: now, or some day on which they come true of themselves.
        def held(facts, last)
          return [facts.event.at, "condition"] if @test.call(facts)
          return unless @daily

          calendar = @schema.calendar
          first = facts.today(calendar) + 1
          days = (first...(first + AHEAD)).to_h { |day| [day, calendar.zone.midnight(day)] }
          days = days.select { |_, moment| moment < last } if last
          day, moment = days.find { |one, at| @test.call(facts.as_of(at, one)) }
          return [moment, "condition"] if day

          [days.values.last, "look"] if days.size == AHEAD
        end

        def shown_words
          parts = []
          parts << "for #{@for.phrase.sub(" after the run", "")}" if @for
          parts << "until #{@date.phrase}" if @date
          parts << "until #{conditions_in_words}" if @until
          [parts.join(" or "), @limit && "at most #{@limit.phrase.sub(" after the run", "")}"].compact.join(", ")
        end

        def conditions_in_words =
          Wording.new(@kind, @schema).condition(settings["until"]).sub(/\Aall of \((.*)\)\z/, '\1')

        def prepare
          @for = bind("for", now: true)
          @date = bind("date", now: false)
          @limit = bind("limit", now: true)
          written = settings["until"]
          @until = written && group(written, @kind, "until")
          unless settings["for"] || settings["date"] || written
            wrong([], "must say what it waits for: for (a time), date, until (conditions)")
          end
          if settings["limit"].nil? && settings["for"].nil?
            wrong(
              "limit", "must be given, so that it does not wait for ever for conditions or for a date that stays empty"
            )
          end
          wrong("until", "must have a condition") if @until && written.items.empty?
          check_one_of(AT_LIMIT, settings["at_limit"], "at_limit")
          prepare_until if @until
        end

        def prepare_until
          @test = @until.to_proc
          @needs += @until.needs
          @daily = false
          @until.each_leaf do |leaf|
            @daily ||= leaf.day?
            if leaf.operator.side != :after || leaf.reference.is_a?(EventSide) || leaf.reference.is_a?(BeforeSide)
              wrong("until", "must ask about the record as it is; #{leaf.label} #{leaf.phrase} asks about the event")
            end
          end
        end

        def bind(name, now:)
          rule = settings[name] or return
          if now && rule.from != "now"
            return wrong([name, "from"], "must be now; the time counts from when the wait begins")
          end
          return wrong([name, "from"], "must be a date field") if !now && %w[now event].include?(rule.from)

          date(rule, name)
        end
      end
    end
  end
end
