# frozen_string_literal: true

module Yenvo
  module Core
    module Triggers
      # A record changes: any field, one field, or one field from some values to others.
      class RecordChanged < Trigger
        def self.takes = {"field" => :field, "from" => :values, "to" => :values}
        def self.words = "changes"

        def before_save? = true
        def daily? = field.nil?

        attr_reader :field

        def prepare
          @field = kind.field(settings["field"])
          @from = read("from")
          @to = read("to")
        end

        def check(problems)
          check_field(problems)
          %w[from to].each do |name|
            next unless settings[name]

            unless settings["field"]
              problems << Problem.at(["trigger", name], "must stand with a field whose change is watched")
            end
            read!(name) if field
          rescue Unreadable => error
            problems << Problem.at(["trigger", name], "must fit the field: #{error.message}")
          end
        end

        def watch_keys = [field ? ["field", field.key] : ["any"]]

        # Texts and numbers can be equal without being the same, and one of several choices is not all there is.
        def pins = (field && @to && !field.textual? && !field.numeric? && !several?) ? {field.key => @to} : {}

        def beyond_key = (field && @from.nil? && (@to.nil? || pins.any?)) ? nil : to_proc

        def to_proc
          return ->(facts) { facts.event.what == "record_changed" && !facts.event.changed_fields.empty? } unless field

          key = field.key
          from, to = [@from, @to].map { |values| values && among(values) }
          lambda do |facts|
            was = facts.before[key]
            is = facts.after[key]
            facts.event.what == "record_changed" && was != is && (from.nil? || from.call(was)) &&
              (to.nil? || to.call(is))
          end
        end

        def sentence
          return "Any field changes" unless field
          return "#{field.label} becomes #{shown(@to)}" if @to && !@from

          [field.label, "changes", @from && "from #{shown(@from)}", @to && "to #{shown(@to)}"].compact.join(" ")
        end

        # The watched field is thought to have just become what it is.
        def imagine(image)
          return [image.merge("title" => "#{image["title"]} before"), image] unless field
          return if @to && !among(@to).call(image[field.key])

          earlier = (@from || other_values(image[field.key])).find { |value| value != image[field.key] }
          return if earlier.nil? && image[field.key].nil?

          [image.merge(field.key => earlier), image]
        end

        def miss(facts)
          return "Nothing was changed by hand or rule" unless field
          return "#{field.label} did not change" if facts.before[field.key] == facts.after[field.key]

          "#{field.label} went from #{shown([facts.before[field.key]])} to #{shown([facts.after[field.key]])}"
        end

        private

        def read(name)
          read!(name)
        rescue Unreadable
          nil
        end

        def read!(name)
          return unless settings[name] && field

          single =
            (
              if several?
                Schema::Field.of(field.key, field.label, "choice", choices: field.choices)
              else
                field
              end
            )
          Array(settings[name]).map { |one| Reading.value(single, one, schema) }
        end

        def several? = field.type == "choices"

        # Texts compare without case, as in conditions; of several choices one is enough.
        def among(values)
          return ->(value) { value.is_a?(Array) && (values & value).any? } if several?
          return ->(value) { values.include?(value) } unless field.textual?

          folded = values.map(&:downcase)
          ->(value) { value.is_a?(String) && folded.include?(value.downcase) }
        end

        def other_values(current)
          return field.choices.map(&:key) if field.type == "choice"
          return [!current] if field.type == "yes_no" && !current.nil?

          [nil]
        end

        def check_field(problems)
          if settings["field"].nil? || (field && !Schema::Kind::KEPT_BY_YENVO.include?(field.key) && !field.worked_out?)
            return
          end

          _, wrong = Reference.find(settings["field"], kind, schema)
          if field&.worked_out?
            wrong ||=
              "must be a field that is kept; watch the fields that #{field.label} is worked out from"
          end
          problems << Problem.at(
            %w[trigger field], wrong || "must be a field that people or rules change; Yenvo keeps #{field.label} itself"
          )
        end

        def shown(values)
          values.map { |value| Show.value(field, value, schema) }.join(" or ")
        end
      end
    end
  end
end
