# frozen_string_literal: true

require "date"

module Yenvo
  module Core
    # One line of the table by which what programs send becomes fields: where it stands in the message, in which field
    # it is kept, and how it is turned into that. field: Schema::Field; path: names with dots between, nil for what is
    # always the same; form: of dates, one of FORMS; choices: Hash of what programs write to keys of choices; by: field
    # of the kind that a link leads to, by which its record is found, nil for its number; value: what it always is;
    # otherwise: what it is where nothing stands there.
    DoorRow =
      Value.define(:field, :path, :form, :choices, :by, :value, :otherwise) do
        # @param message [Hash] of the CloudEvent, with its data
        # @return [Object, DoorLink, nil] the plain form, or which record is to be found
        # @raise [Unreadable]
        def read(message, schema)
          given = path ? self.class.dig(message, path) : value
          given = otherwise if given.nil? || given == ""
          return if given.nil? || given == ""

          turned = turn(given, schema)
          turned.is_a?(DoorLink) ? turned : Reading.value(field, turned, schema)
        end

        # @return [Object, nil] what stands at a path
        def self.dig(message, path)
          path.split(".").inject(message) do |at, step|
            case at
            when Hash then at[step]
            when Array then step.match?(/\A\d{1,6}\z/) ? at[step.to_i] : nil
            end
          end
        end

        private

        def turn(given, schema)
          case field.type
          when "date", "datetime" then moment(given, schema)
          when "choice" then choice(given)
          when "choices" then several(given).map { |one| choice(one) }
          when "yes_no" then truth(given)
          when "number", "money" then number(given)
          when "person" then person(given, schema)
          when "link" then DoorLink.new(field:, by:, value: plain(given))
          else plain(given)
          end
        end

        def plain(given)
          return given.to_s if [String, Integer, Float, TrueClass, FalseClass].any? { |type| given.is_a?(type) }

          raise Unreadable, "#{field.label} takes one value; at #{path} stand several."
        end

        def several(given) = given.is_a?(Array) ? given : plain(given).split(/\s*[,;]\s*/)

        # By what programs write, by its key, or by what people read.
        def choice(given)
          text = plain(given)
          return choices[text] if choices[text]

          found = field.choices.find { |one| one.key == text || one.label.casecmp?(text.strip) }
          return found.key if found

          raise Unreadable, "#{field.label} has no choice #{Show.quoted(text)}; say in the table which it is."
        end

        # As JSON and programs write it, whatever the house writes.
        def number(given)
          return given unless given.is_a?(String)

          text = given.strip
          return given unless text.match?(/\A-?\d{1,15}(\.\d{1,10})?\z/)

          text.include?(".") ? text.to_f : text.to_i
        end

        def truth(given)
          {"true" => true, "1" => true, "false" => false, "0" => false}.fetch(given.to_s.downcase, given)
        end

        def person(given, schema)
          text = plain(given)
          by_mail(text, schema) || text
        end

        def by_mail(text, schema) = schema.people.each_value.find { |one| one.email.to_s.casecmp?(text) }&.key

        def moment(given, schema)
          return seconds(given, schema) if form == "unix"

          text = plain(given).strip
          day, rest = day_of(text)
          day ? dated(day, rest, schema) : text
        end

        def seconds(given, schema)
          number = whole(given)
          number ? at_once(Time.at(number).utc, schema) : given
        end

        def whole(given) = Integer(given.to_s, 10, exception: false)

        def day_of(text)
          found = self.class::DAYS.fetch(form).match(text) or return
          [Date.new(*%w[y m d].map { |name| found[name].to_i }), found.post_match]
        rescue Date::Error
          nil
        end

        # A moment says where it is; without that it is meant by the clock of the house.
        def dated(day, rest, schema)
          text = "#{day.iso8601}#{rest.sub(/\A[ T]/, "T")}"
          return at_once(Time.iso8601(text), schema) if rest.match?(self.class::ZONED)

          (field.type == "date") ? day.iso8601 : text
        rescue ArgumentError
          text
        end

        def at_once(time, schema)
          (field.type == "date") ? schema.calendar.date_of(time).iso8601 : Reading.moment(time)
        end
      end

    # A record that is to be found by one of its fields. by: key of it, nil for the number; value: what programs wrote.
    DoorLink = Value.define(:field, :by, :value)

    DoorRow::PATH = Actions::CallOut::PATH
    # How dates are written: RFC 3339 and ISO 8601, the day first, the month first, seconds since 1970.
    DoorRow::FORMS = %w[iso day_first month_first unix].freeze
    DoorRow::DAYS = {
      "iso" => /\A(?<y>\d{4})-(?<m>\d\d)-(?<d>\d\d)/, "day_first" => %r{\A(?<d>\d\d?)[./-](?<m>\d\d?)[./-](?<y>\d{4})},
      "month_first" => %r{\A(?<m>\d\d?)[./-](?<d>\d\d?)[./-](?<y>\d{4})}
    }.freeze
    DoorRow::ZONED = /\A[ T]\d\d:\d\d:\d\d(\.\d+)?(Z|[+-]\d\d:?\d\d)\z/i
  end
end
