# frozen_string_literal: true

require "date"
require "liquid"

module Yenvo
  module Core
    # What a blank of a text can be sent through, as in {{ record.title | upcase }}: those of Liquid that change words,
    # numbers and dates, and no others. Each is bounded by what it gives before it begins, and takes a blank as what it
    # is: a number where a number is asked for, a date where a date is.
    module TextFilters
      # What a filter cannot be given.
      class Misused < Liquid::Error; end

      # Characters of a text on its way through filters.
      MAX = 20_000
      # Letters of a date and time that a format may have (strftime, ISO C), without widths, which could be of any size.
      FORMAT = /\A(?:[^%]|%-?[AaBbCcDdeFHIjklMmpRSTUuVWwXxYyZz%])*\z/
      MAX_FORMAT = 60

      def upcase(text) = words(text).upcase
      def downcase(text) = words(text).downcase
      def capitalize(text) = words(text).capitalize
      def strip(text) = words(text).strip
      def append(text, more) = bounded(words(text), words(more).size) { |plain| plain + words(more) }
      def prepend(text, more) = bounded(words(text), words(more).size) { |plain| words(more) + plain }
      def remove(text, part) = words(text).gsub(words(part), "")
      def size(text) = words(text).size

      def replace(text, part, other)
        part, other = words(part), words(other)
        raise Misused, "replace needs what is to be replaced" if part.empty?

        plain = words(text)
        bounded(plain, plain.scan(part).size * [other.size - part.size, 0].max) { plain.gsub(part) { other } }
      end

      def truncate(text, most = 50, mark = "…")
        most, mark, plain = number(most).to_i.clamp(0, MAX), words(mark), words(text)
        (plain.size <= most) ? plain : plain[0, [most - mark.size, 0].max] + mark
      end

      def truncatewords(text, most = 15, mark = "…")
        all = words(text).split
        most = number(most).to_i.clamp(1, MAX)
        (all.size <= most) ? words(text) : all.first(most).join(" ") + words(mark)
      end

      def default(value, other) = (value.nil? || value == false || words(value).empty?) ? other : value

      def plus(one, other) = counted(number(one) + number(other))
      def minus(one, other) = counted(number(one) - number(other))
      def times(one, other) = counted(number(one) * number(other))
      def at_least(one, other) = counted([number(one), number(other)].max)
      def at_most(one, other) = counted([number(one), number(other)].min)
      def abs(one) = counted(number(one).abs)
      def ceil(one) = counted(number(one).ceil)
      def floor(one) = counted(number(one).floor)
      def round(one, digits = 0) = counted(number(one).round(number(digits).to_i.clamp(0, 6), half: :up))

      def divided_by(one, other)
        divisor = number(other)
        raise Misused, "nothing can be divided by 0" if divisor.zero?

        counted(number(one).fdiv(divisor))
      end

      # @param format [String] such as "%-d %B %Y"
      def date(value, format)
        raise Misused, TextFilters.format_problem(words(format)) if TextFilters.format_problem(words(format))

        day = value.is_a?(FieldDrop) ? value.day : nil
        raise Misused, "date needs a date; #{words(value)[0, 40].inspect} is none" unless day

        day.strftime(words(format))
      end

      # @return [Array<String>] names, as they stand behind |
      def self.names = @names ||= public_instance_methods.map(&:to_s).sort

      # @return [String, nil] what is wrong with the format of a date
      def self.format_problem(format)
        unless format.size <= MAX_FORMAT && FORMAT.match?(format)
          "a date's format has letters behind % and no widths, such as %-d %B %Y; #{format[0, 40].inspect} is none"
        end
      end

      private

      # @return [String] within bounds
      def words(value)
        text = value.to_s
        raise Misused, "a text has more than #{Show.count(MAX)} characters on its way" if text.size > MAX

        text
      end

      # Looks before it leaps: what would grow too large is never made.
      def bounded(text, more)
        raise Misused, "a text would grow beyond #{Show.count(MAX)} characters" if text.size + more > MAX

        yield text
      end

      def number(value)
        return 0 if value.nil?

        plain = value.is_a?(FieldDrop) ? value.number : value
        plain = number_of(plain) if plain.is_a?(String)
        plain.is_a?(Numeric) ? plain : raise(Misused, "a number is needed; #{words(value)[0, 40].inspect} is none")
      end

      def number_of(text)
        Reading.number_from(text)
      rescue Unreadable
        nil
      end

      def counted(value)
        Formula.tidy(value.is_a?(BigDecimal) ? value.to_f : value, 6) ||
          raise(Misused, "a number grows beyond #{Show.count(Reading::MAX_NUMBER)}")
      end
    end
  end
end
