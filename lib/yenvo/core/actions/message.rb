# frozen_string_literal: true

module Yenvo
  module Core
    module Actions
      # The base of actions by which something leaves the house: when it leaves, and whether somebody is asked first.
      class Message < Action
        # Seconds that a message waits unless it is said, so that it can still be taken back; and days at most.
        USUAL = 120
        MOST_DAYS = 7
        # Units by which it can be said, each with the most there can be.
        MOST = {
          "minutes" => 10_080, "hours" => 168, "working_hours" => 40, "days" => 7, "working_days" => 5,
          "weeks" => 1
        }.freeze

        LATER = {"leaves" => :date, "not_before" => :time, "ask" => :flag}.freeze

        private

        # @param content [Hash] of the message
        # @param words, notes, left_out, named, attach of Effects::SendOut; each written out, since a Hash of them would
        #   be made for every message
        # @return [Array<Effects::Step>]
        def message(destination, content, facts, now, words:, notes: [], left_out: [], named: nil, attach: [])
          way = @doing.name
          [
            Effects::SendOut.new(
              action: way, words:, notes:, record: facts.record_id, way:, destination:, content:, named:, attach:,
              leaves_at: leaves_at(facts, now), ask: settings["ask"] == true, left_out:
            )
          ]
        end

        def leaves_at(facts, now)
          return usual(now) unless @leaves || settings["not_before"]

          wanted = @leaves ? @leaves.moment(facts, now:) : usual(now)
          wanted = awake(wanted) if settings["not_before"]
          wanted.clamp(now, now + (MOST_DAYS * 86_400))
        end

        # All messages of one turn leave at one moment, which is worked out once.
        def usual(now)
          last = @usual
          last = @usual = [now, now + USUAL].freeze unless last && last[0].equal?(now)
          last[1]
        end

        # @return [Time] the moment itself when it lies late enough in a working day, else when the next such is
        def awake(moment)
          calendar = @schema.calendar
          clock = ClockTime.parse(settings["not_before"])
          day, from = calendar.date_of(moment), ->(date) { calendar.zone.at(date, clock) }
          return moment if calendar.working_day?(day) && moment >= from.call(day)

          day += 1 unless moment < from.call(day)
          from.call((day..(day + MOST_DAYS)).find { |date| calendar.working_day?(date) } || day)
        end

        def prepare_leaving
          rule = settings["leaves"] or return
          return wrong(%w[leaves from], "must be now; the time counts from when the rule runs") if rule.from != "now"

          most = MOST[rule.unit]
          sentence = "must be at most #{MOST_DAYS} days from when the rule runs"
          return wrong(%w[leaves count], sentence) if most.nil? || rule.count > most || rule.direction != "after"

          @leaves = date(rule, "leaves")
        end

        # @return [Schema::Address, nil]
        def address(way)
          key = settings["address"].to_s
          found = @schema.addresses[key]
          return found if found&.way == way

          known = @schema.addresses.each_value.select { |one| one.way == way }.map(&:key).first(20).join(", ")
          noun = (way == "board") ? "board" : "address for web calls"
          known = known.empty? ? "there is none in the set-up yet" : "known: #{known}"
          wrong("address", "must be #{(way == "board") ? "a" : "an"} #{noun} of the set-up; #{known}")
        end
      end
    end
  end
end
