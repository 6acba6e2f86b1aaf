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

      # @return [Proc] from a row, which it fills in, and what a plan says of the field
      def self.writer(field)
        return method(:write_due) if field.type == "due"

        column = field.column.to_sym
        plain = PLAIN[field.type] or return ->(row, value) { row[column] = value }
        ->(row, value) { row[column] = plain.call(value, field) }
      end

      # From what a plan says to what stands in a column, where it is not the same.
      PLAIN = {
        "line" => ->(value, _) { Core::Reading.presence(value)&.slice(0, Core::Reading::MAX_TEXT) },
        "link" => ->(value, _) { Core::Reading.presence(value)&.slice(0, Core::Reading::MAX_TEXT) },
        "text" => ->(value, _) { Core::Reading.presence(value) },
        "level" => ->(value, field) { field.choices.index(value) }, "day" => ->(value, _) { value&.on },
        "moment" => ->(value, _) { value&.moment }, "answers" => ->(value, _) { JSON.generate(value) }
      }.freeze
      private_constant :PLAIN

      def self.write_due(row, value)
        row[:due_on] = value&.on
        row[:due_minutes] = value&.minutes
        row[:due_at] = value ? value.moment : NEVER
      end

      # @return [Proc] from what stands in the field's column, nil for nothing, to its plain form
      def self.reader(field)
        case field.type
        when "level" then ->(value) { field.choices[value] }
        when "answers" then ->(value) { JSON.parse(value) }
        when "day", "due" then ->(value) { value&.iso8601 }
        when "moment" then ->(value) { value && Core::Reading.moment(value) }
        else ->(value) { value }
        end
      end

      # Made once: every task that is made or looked at goes through them.
      WRITERS = PLANNED.to_h { |field| [field.name, writer(field)] }.freeze
      READERS = FIELDS.to_h { |field| [field.key, reader(field)] }.freeze
      LOOKS = SEEN.map { |field| [field.key, field.column.to_sym, READERS[field.key]] }.freeze
      private_constant :WRITERS, :READERS, :LOOKS
      private_class_method :writer, :reader, :write_due

      module_function

      # @param task [Core::PlannedTask]
      # @return [Hash{Symbol => Object}]
      def of_plan(task) = {}.tap { |row| WRITERS.each { |name, writer| writer.call(row, task[name]) } }

      # @param value [Object] of the field, as it is in a plan
      # @return [Hash{Symbol => Object}] the columns that say so
      def written(field, value) = {}.tap { |row| WRITERS.fetch(field.name).call(row, value) }

      # @param dates [Hash{Symbol => Core::Due, nil}] by :start, :remind, :due
      # @return [Hash{Symbol => Object}] columns of those that are given
      def of_dates(dates) =
        dates.inject({}) { |row, (name, due)| row.merge!(written(Core::Schema::TaskField[name.to_s], due)) }

      # @param row [Hash] of tasks
      # @return [Hash{String => Object}] as conditions see it
      def seen(row) = LOOKS.each_with_object({}) { |(key, column, read), seen| seen[key] = read.call(row[column]) }

      # @param row [Hash] of tasks
      # @return [Hash{Symbol => Object}] as the forms take it, dates and moments as texts; only what people write
      def shown(row)
        BY_HAND.inject({}) do |said, field|
          next said.merge!(due(row)) if field.type == "due"

          said.merge!(column(field) => READERS[field.key].call(row[column(field)]))
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

      def due(row)
        {due_on: row[:due_on]&.iso8601, due_at: row[:due_minutes] && Core::ClockTime.show(row[:due_minutes])}
      end
    end
  end
end
