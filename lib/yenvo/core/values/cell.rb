# frozen_string_literal: true

module Yenvo
  module Core
    # How a value stands in a cell of a table that is given out: as people read it, but for dates and numbers, which
    # other programs have to read too (ISO 8601; a point before the decimals).
    module Cell
      # What a spreadsheet would take for a formula when a cell begins with it.
      FORMULA = /\A[=+\-@\t\r]/
      NUMBER = /\A-?\d+(\.\d+)?\z/

      module_function

      # @param field [Schema::Field]
      # @param value [Object, nil] in the plain form
      # @param titles [Hash{Integer => String}] of the records that links lead to
      # @return [String]
      def text(field, value, schema, titles = {})
        case field.type
        when "datetime" then moment(value, schema)
        when "date", "number", "money" then value.to_s
        when "choices" then Array(value).map { |key| field.choice_label(key) }.join("; ")
        else value.nil? ? "" : Show.value(field, value, schema, titles)
        end
      end

      # @param value [String, Time, nil]
      # @return [String] by the clock of the house, such as 2026-12-03 09:00
      def moment(value, schema)
        time = value.is_a?(String) ? Reading.time(value) : value
        time ? schema.calendar.zone.local(time).strftime("%Y-%m-%d %H:%M") : ""
      end

      # @return [String] what no spreadsheet runs; a number stays one
      def harmless(text)
        text = text.to_s
        (text.match?(FORMULA) && !text.match?(NUMBER)) ? "'#{text}" : text
      end
    end
  end
end
