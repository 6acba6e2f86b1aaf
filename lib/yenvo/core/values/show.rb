# frozen_string_literal: true

require "date"
require "time"

module Yenvo
  module Core
    # Turns the plain form of values into what people read: labels for keys, "€4,350", "9.1 m", "Thu 3 Dec 2026".
    module Show
      module_function

      # @return [String] in one line, whatever was filled in, so that it cannot bring along a line of its own
      def line(text) = text.match?(/[[:cntrl:]]/) ? text.gsub(/[[:cntrl:]]+/, " ").strip : text

      # @param field [Schema::Field]
      # @param value [Object, nil] plain form
      # @param schema [Schema]
      # @param titles [Hash{Integer => String}] titles of linked records, by id
      # @return [String] "empty" for nil
      def value(field, value, schema, titles = {})
        return "empty" if value.nil?

        case field.type
        when "choice" then field.choice_label(value)
        when "choices" then value.map { |key| field.choice_label(key) }.join(", ")
        when "person" then schema.name_of(value)
        when "link" then titles[value] || "record #{value}"
        when "yes_no" then value ? "yes" : "no"
        when "date" then date(Date.iso8601(value))
        when "datetime" then moment(Reading.time(value), schema.zone)
        when "money" then money(value, field.unit)
        when "number" then [number(value), field.unit].compact.join(" ")
        else value.to_s
        end
      end

      # @return [String] such as "4,350" or "9.1"
      def number(value)
        return count(value) if value.is_a?(Integer)

        whole, rest = value.to_s.delete_suffix(".0").split(".")
        rest ? "#{count(whole)}.#{rest}" : count(whole)
      end

      # @return [String] without anything between thousands, such as "4350.5"
      def plain_number(value) = (value == value.to_i) ? value.to_i.to_s : value.to_s

      # @param count [Numeric]
      # @param noun [String] of one of them
      # @return [String] such as "1 task" or "3 tasks"
      def some(count, noun) = "#{count} #{noun}#{"s" unless count == 1}"

      # @param value [Integer, String] whole
      # @return [String] such as "4,350"
      def count(value)
        text = value.to_s
        (text.size < 4) ? text : text.gsub(/(\d)(?=(\d{3})+\z)/, '\1,')
      end

      def money(value, unit)
        text = (value == value.to_i) ? count(value.to_i) : number(format("%.2f", value))
        sign = unit || "€"
        sign.match?(/\p{L}\z/) ? "#{sign} #{text}" : "#{sign}#{text}"
      end

      # What somebody wrote, to be quoted back to them. What is no text is not turned into one, however large it would
      # be.
      # @param value [Object]
      # @return [String]
      def quoted(value)
        case value
        when String then ((value.size > MOST_QUOTED) ? "#{value[0, MOST_QUOTED]}…" : value).inspect
        when Integer then (value.bit_length > 100) ? "a number of many digits" : value.to_s
        when Float, true, false then value.to_s
        when nil then "nothing"
        when Array then "a list"
        when Hash then "an object"
        else "that"
        end
      end
      MOST_QUOTED = 40

      # @param value [Date]
      # @return [String] such as "Thu 3 Dec 2026"
      def date(value) = value.strftime("%a %-d %b %Y")

      # @param value [Time]
      # @return [String] such as "Thu 3 Dec 2026 09:00", local
      def moment(value, zone) = Zone.new(zone).local(value).strftime("%a %-d %b %Y %H:%M")
    end
  end
end
