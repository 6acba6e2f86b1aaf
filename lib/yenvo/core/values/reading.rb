# frozen_string_literal: true

require "date"
require "time"
require "uri"

module Yenvo
  module Core
    # Reads what people type or send into the plain form that records keep: text without outer blanks, numbers,
    # "2026-12-03" for a date, "2026-12-03T09:00:00.000000Z" (UTC) for a date with time, true or false, keys of
    # choices and persons, ids of records, nil for empty. Both date forms sort as text in order of time.
    module Reading
      MAX_TEXT = 500
      MAX_LONG_TEXT = 20_000
      MAX_NUMBER = 1_000_000_000_000
      DATE = /\A(\d{4})-(\d{2})-(\d{2})\z/
      # A date with time by the wall clock, as a browser's datetime-local field gives it (HTML Living Standard).
      WALL = /\A(\d{4}-\d{2}-\d{2})T([01]\d|2[0-3]):([0-5]\d)(?::\d{2})?\z/
      EMAIL = /\A[^@\s]+@[^@\s]+\.[^@\s.]+\z/
      PHONE = /\A\+?[\d\s().\/-]{3,40}\z/

      module_function

      # @param field [Schema::Field]
      # @param value [Object] as typed or as it stood in JSON
      # @param schema [Schema] for persons and the time zone
      # @return [Object, nil] the plain form
      # @raise [Unreadable] a sentence that names the field, the value and the way out
      def value(field, value, schema)
        value = trim(value) if value.is_a?(String)
        return nil if value.nil? || value == "" || value == []

        send("read_#{field.textual? ? "text" : field.type}", field, value, schema)
      end

      # What no eye sees at the ends of a text is none of it: blanks of every script, and characters without width.
      BLANK_ENDS = /\A[[:space:]\p{Cf}]+|[[:space:]\p{Cf}]+\z/

      # @param text [String]
      # @return [String]
      def trim(text) = (text.valid_encoding? && text.match?(BLANK_ENDS)) ? text.gsub(BLANK_ENDS, "") : text

      # @param text [String, nil]
      # @return [String, nil] nil where there is nothing to read
      def presence(text) = (text && !text.to_s.strip.empty?) ? text : nil

      # @param value [Time]
      # @return [String] the plain form of a moment
      def moment(value) = value.getutc.strftime("%Y-%m-%dT%H:%M:%S.%6NZ")

      # @return [String] at most as long as a field takes
      def cut(text) = text[0, MAX_TEXT]

      # @return [Object] a moment in its plain form, all else as it is
      def plain(value) = value.is_a?(Time) ? moment(value) : value

      # @param plain [String] as +moment+ gives it, to the microsecond; any other ISO 8601 is read too, but not as fast
      # @return [Time] UTC
      def time(plain)
        return Time.iso8601(plain) unless plain.size == 27 && plain.end_with?("Z")

        Time.utc(
          plain[0, 4].to_i, plain[5, 2].to_i, plain[8, 2].to_i, plain[11, 2].to_i, plain[14, 2].to_i, plain[17, 2].to_i,
          plain[20, 6].to_i
        )
      end

      def read_text(field, value, _schema)
        refuse(field, value, "takes a text") unless value.is_a?(String)
        long = field.type == "long_text"
        most = long ? MAX_LONG_TEXT : MAX_TEXT
        if value.size > most
          raise Unreadable,
            "#{field.label} takes at most #{Show.count(most)} characters; this has #{Show.count(value.size)}. " \
            "Shorten it."
        end
        unless value.valid_encoding? && !value.include?("\u0000")
          raise Unreadable, "#{field.label} has characters that cannot be kept. Type it again without them."
        end

        check_form(field, value)
        long ? value : value.gsub(/\s+/, " ")
      end

      def check_form(field, value)
        case field.type
        when "email"
          refuse(field, value, "takes an e-mail address such as name@example.org") unless EMAIL.match?(value)
        when "phone"
          refuse(field, value, "takes a phone number such as +353 555 0147") unless PHONE.match?(value)
        when "url"
          refuse(field, value, "takes a web address that begins with https:// or http://") unless web?(value)
        end
      end

      def web?(value)
        uri = URI.parse(value)
        uri.is_a?(URI::HTTP) && !uri.host.to_s.empty?
      rescue URI::InvalidURIError
        false
      end

      def read_number(field, value, schema)
        number = typed_number(field, value, schema) or refuse(field, value, "takes a number such as 12 or 9.1")
        if number.abs > MAX_NUMBER
          raise Unreadable, "#{field.label} takes a number between -1,000,000,000,000 and 1,000,000,000,000. Check it."
        end

        number
      end

      def read_money(field, value, schema)
        number = read_number(field, value, schema)
        if (number * 100).round(6) != (number * 100).round
          raise Unreadable, "#{field.label} takes whole cents, at most two digits behind the point. Round it."
        end

        (number == number.to_i) ? number.to_i : number
      end

      # @raise [Unreadable] when it is a number in a form that the house does not write
      def typed_number(field, value, schema)
        value.is_a?(String) ? Numbers.read(value, form: schema.number_form, unit: field.unit) : number_from(value)
      rescue Unreadable => error
        raise Unreadable.new(
          "#{field.label}: #{error.message}, and #{Show.quoted(value)} could be meant in two ways.", field: field.key
        )
      end

      # @return [Integer, Float, nil] nil for what is no number, and for one without bounds
      def number_from(value)
        case value
        when Integer then value
        when Float then value.finite? ? value : nil
        when String then Numbers.read(value)
        end
      end

      def read_date(field, value, _schema)
        value = Numbers.dotted_date(value) if value.is_a?(String)
        unless value.is_a?(String) && (parts = DATE.match(value))
          refuse(field, value, "takes a date such as 2026-12-03")
        end
        year, month, day = parts.captures.map(&:to_i)
        unless Date.valid_date?(year, month, day)
          raise Unreadable, "#{field.label}: #{value} is not a day of the calendar. Choose another."
        end
        unless year.between?(1900, 2200)
          raise Unreadable, "#{field.label} takes a year between 1900 and 2200. Check #{value}."
        end

        value
      end

      def read_datetime(field, value, schema)
        return moment(value) if value.is_a?(Time)
        raise ArgumentError unless value.is_a?(String) && value.size <= 40

        day, hour, minute = DATE.match?(value) ? [value] : WALL.match(value)&.captures
        return moment(Time.iso8601(value)) unless day

        date = Date.iso8601(read_date(field, day, schema))
        moment(Zone.new(schema.zone).at(date, (hour.to_i * 60) + minute.to_i))
      rescue ArgumentError
        refuse(field, value, "takes a date with time such as 2026-12-03T09:00:00Z")
      end

      def read_yes_no(field, value, _schema)
        return value if [true, false].include?(value)

        {"yes" => true, "no" => false, "true" => true, "false" => false}.fetch(
          value.is_a?(String) ? value[0, 10].downcase : nil
        ) { refuse(field, value, "takes yes or no") }
      end

      def read_choice(field, value, _schema)
        field.choice(value)&.key || by_label(field, value) ||
          refuse(field, value, "takes one of #{field.choices.map(&:label).join(", ")}")
      end

      def by_label(field, value)
        field.choices.find { |choice| choice.label.casecmp?(value) }&.key if value.is_a?(String)
      end

      def read_choices(field, value, schema)
        Array(value).map { |one| read_choice(field, one, schema) }.uniq
      end

      def read_person(field, value, schema)
        known = schema.person(value) and return known.key

        named = value.is_a?(String) ? schema.people.each_value.select { |person| person.name.casecmp?(value) } : []
        if named.size > 1
          raise Unreadable,
            "#{field.label} takes one person; " \
            "#{named.map { |person| "#{person.name} (#{person.key})" }.join(" and ")} have that name. Write the key " \
            "of the one you mean."
        end

        named[0]&.key || refuse(field, value, "takes a person of this Yenvo")
      end

      def read_link(field, value, _schema)
        id = (value.is_a?(String) && value.match?(/\A\d{1,18}\z/)) ? value.to_i : value
        (id.is_a?(Integer) && id.positive?) ? id : refuse(field, value, "takes a record; choose one from the list")
      end

      def refuse(field, value, expected)
        raise Unreadable.new(
          "#{field.label} #{expected}; #{Show.quoted(value).sub(/\A"/, "“").sub(/"\z/, "”")} is none.", field: field.key
        )
      end
    end
  end
end
