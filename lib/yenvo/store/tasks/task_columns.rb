# frozen_string_literal: true

module Yenvo
  module Store
    # What Core::Schema::TaskField says of a task, as columns of its row: from a plan, to what conditions see, to what
    # the forms and the API show.
    module TaskColumns
      # Tasks without a due date stand behind all others.
      NEVER = Time.utc(9999, 12, 31)
      OPEN = %w[open started waiting].freeze
      PRIORITIES = Core::Schema::TaskField::PRIORITIES

      FIELDS = Core::Schema::TaskField.all.select { |field| field.columns.any? }.freeze
      # What people write themselves.
      BY_HAND = FIELDS.select { |field| field.stands?("edit") }.freeze
      PLANNED = FIELDS.reject { |field| %w[assign target].include?(field.type) }.freeze
      SEEN = FIELDS.select(&:seen).freeze
      private_constant :FIELDS, :BY_HAND, :PLANNED, :SEEN

      module_function

      # @param task [Core::PlannedTask]
      # @return [Hash{Symbol => Object}]
      def of_plan(task) = PLANNED.inject({}) { |row, field| row.merge!(written(field, task[field.name])) }

      # @param value [Object] of the field, as it is in a plan
      # @return [Hash{Symbol => Object}] the columns that say so
      def written(field, value)
        case field.type
        when "line", "link" then {column(field) => Core::Reading.presence(value)&.slice(0, Core::Reading::MAX_TEXT)}
        when "text" then {column(field) => Core::Reading.presence(value)}
        when "level" then {column(field) => field.choices.index(value)}
        when "day" then {column(field) => value&.on}
        when "moment" then {column(field) => value&.moment}
        when "due" then {due_on: value&.on, due_minutes: value&.minutes, due_at: value ? value.moment : NEVER}
        when "answers" then {column(field) => JSON.generate(value)}
        else {column(field) => value}
        end
      end

      # @param dates [Hash{Symbol => Core::Due, nil}] by :start, :remind, :due
      # @return [Hash{Symbol => Object}] columns of those that are given
      def of_dates(dates) =
        dates.inject({}) { |row, (name, due)| row.merge!(written(Core::Schema::TaskField[name.to_s], due)) }

      # @param row [Hash] of tasks
      # @return [Hash{String => Object}] as conditions see it
      def seen(row)
        SEEN.to_h do |field|
          [field.key, plain(field, row[column(field)])]
        end
      end

      # @param row [Hash] of tasks
      # @return [Hash{Symbol => Object}] as the forms take it, dates and moments as texts; only what people write
      def shown(row)
        BY_HAND.inject({}) do |said, field|
          next said.merge!(due(row)) if field.type == "due"

          said.merge!(column(field) => plain(field, row[column(field)]))
        end
      end

      # @param plain [Hash{String => Object}] see +to_plain+
      # @return [Hash{String => Object}] what the form of a new task takes, as +shown+ gives it
      def of_kept(plain) =
        shown(from_plain(plain)).transform_keys(&:to_s).slice(*Core::Schema::TaskField.of("new").flat_map(&:columns))

      # @param columns [Hash{Symbol => Object}] of a row
      # @return [Hash{String => Object}] fit for JSON
      def to_plain(columns)
        columns.to_h do |name, value|
          value = Core::Reading.moment(value) if value.is_a?(Time)
          [name.to_s, value.is_a?(Date) ? value.iso8601 : value]
        end
      end

      # @return [Hash{Symbol => Object}] the columns again
      def from_plain(plain)
        plain.to_h do |name, value|
          next [name.to_sym, Time.iso8601(value)] if value && name.end_with?("_at")

          [name.to_sym, (value && name.end_with?("_on")) ? Date.iso8601(value) : value]
        end
      end

      def column(field) = field.column.to_sym

      # @param value [Object, nil] of the field's column
      def plain(field, value)
        case field.type
        when "level" then field.choices[value]
        when "answers" then JSON.parse(value)
        when "day", "due" then value&.iso8601
        when "moment" then value && Core::Reading.moment(value)
        else value
        end
      end

      def due(row)
        {due_on: row[:due_on]&.iso8601, due_at: row[:due_minutes] && Core::ClockTime.show(row[:due_minutes])}
      end
    end
  end
end
