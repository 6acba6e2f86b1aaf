# frozen_string_literal: true

module Yenvo
  module Core
    module Triggers
      # Nothing of the chosen kinds has happened to a record, or to a task about it, for so long. It fires once for each
      # silence; the next thing that happens begins another.
      class QuietTimer < TimerTrigger
        KINDS = {
          "contact" => "contact", "note" => "note", "change" => "change", "stage" => "stage change",
          "task_done" => "finished task"
        }.freeze

        def self.takes =
          {
            "nothing" => :quiet, "fields" => :own_fields, "span" => :span, "at" => :time, "people" => :flag,
            "task" => :flag
          }

        def self.needs = ["span"]
        def self.words = "is quiet for some time"

        attr_reader :span, :minutes

        def prepare
          @kinds = Array(settings["nothing"])
          @fields = Array(settings["fields"])
          @span = settings["span"] && Span.new(count: settings["span"]["count"], unit: settings["span"]["unit"])
          @minutes = settings["at"] && ClockTime.parse(settings["at"])
        end

        def check(problems)
          wrong = ->(sentence, *step) { problems << Problem.at(["trigger", *step], sentence) }
          known = KINDS.keys.join(", ")
          wrong.call("must name what does not happen (#{known})", "nothing") if @kinds.empty? && !task?
          unknown = @kinds - KINDS.keys
          wrong.call("must be of #{known}; #{unknown.join(", ")} is not", "nothing") if unknown.any?
          check_span(wrong)
          @fields.each do |name|
            field = kind.field(name)
            next if field && !field.worked_out? && !Schema::Kind::KEPT_BY_YENVO.include?(name)

            wrong.call("must name fields that people or rules change; #{name[0, 60].inspect} is none", "fields")
          end
        end

        def check_span(wrong)
          wrong.call("must be at least 1", "span", "count") if span.count.zero?
          if settings["at"] && DateRule::CLOCKED.key?(span.unit)
            units = span.unit.tr("_", " ")
            wrong.call("must be left out when #{units} are counted; the time of day follows from them", "at")
          end
          return unless schema.calendar.idle? && span.unit.start_with?("working")

          wrong.call("must be a calendar unit; #{BoundDate::IDLE}", "span", "unit")
        end

        def timing(rule) = Timing::ByQuiet.new(rule, self)

        # @return [Array<String>] the kinds of things, and fields, that end a silence
        attr_reader :kinds, :fields

        def people? = settings["people"] == true

        # @param event [Event]
        # @return [Boolean] whether it ends a silence
        def stirs?(event)
          return false if people? && event.who.nil?
          return event.what.start_with?("task_") && event.what != "task_late" if task?

          case event.what
          when "record_made" then true
          when "interaction_logged" then @kinds.include?((event.detail["way"] == "note") ? "note" : "contact")
          when "task_done" then @kinds.include?("task_done")
          when "record_changed" then changed?(event)
          else false
          end
        end

        def sentence
          named =
            @kinds.map do |name|
              if name == "change" && @fields.any?
                "change of #{@fields.map { |key| kind.field(key)&.label || key }.join(" or ")}"
              else
                KINDS[name]
              end
            end
          what = task? ? "Nothing done about a task" : "No #{named.join(", ").sub(/, ([^,]*)\z/, ' or \1')}"
          [
            "#{what}#{" by anyone but Yenvo" if people?} for #{span}", settings["at"] && "at #{settings["at"]}"
          ].compact.join(", ")
        end

        private

        def changed?(event)
          return true if @kinds.include?("stage") && event.before["stage"] != event.after["stage"]
          return false unless @kinds.include?("change")

          @fields.empty? ? event.changed_fields.any? : @fields.any? { |key| event.before[key] != event.after[key] }
        end

        def timer_name = "quiet"
      end
    end
  end
end
