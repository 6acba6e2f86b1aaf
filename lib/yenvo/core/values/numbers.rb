# frozen_string_literal: true

module Yenvo
  module Core
    # Numbers and dates as people type them. A house writes its numbers with a point or with a comma before the part
    # behind it; what is certain in that form is taken, and what could be meant in two ways is not guessed at.
    module Numbers
      FORMS = {"point" => [".", ","], "comma" => [",", "."]}.freeze
      MAX_TYPED = 40
      # Blanks that stand between thousands: plain, no-break, thin, narrow no-break; and apostrophes.
      GAPS = /(?<=\d)[ \u00A0\u2009\u202F'’](?=\d{3}(?!\d))/
      # Day, month and year with points between them; nobody writes the month first like that.
      DOTTED = /\A(\d{1,2})\.\s?(\d{1,2})\.\s?(\d{4})\z/

      module_function

      # @param text [String]
      # @param form [String] one of FORMS
      # @param unit [String, nil] that may stand before or behind
      # @return [Integer, Float, nil] nil when it is no number at all
      # @raise [Unreadable] when it is one in another form, with how to write it
      def read(text, form: "point", unit: nil)
        return if text.size > MAX_TYPED

        plain = without_unit(text, unit).gsub(GAPS, "")
        mark, group = FORMS.fetch(form)
        number(plain, mark, group) || other(plain, mark, group, form)
      end

      # @return [String] a date such as 31.12.2026 as 2026-12-31; whatever else as it is
      def dotted_date(text)
        if (parts = DOTTED.match(text))
          format("%<year>s-%<month>02d-%<day>02d", year: parts[3], month: parts[2].to_i, day: parts[1].to_i)
        else
          text
        end
      end

      def without_unit(text, unit)
        unit ||= "€"
        text.delete_prefix(unit).delete_suffix(unit).strip
      end

      # @return [Integer, Float, nil]
      def number(plain, mark, group)
        sign = /[+-]?/
        mark, group = [mark, group].map { |sign_of| Regexp.escape(sign_of) }
        grouped = /\A#{sign}\d{1,3}(?:#{group}\d{3})+(?:#{mark}\d+)?\z/
        return unless plain.match?(/\A#{sign}\d+(?:#{mark}\d+)?\z/) || plain.match?(grouped)

        digits = plain.gsub(/#{group}/, "").sub(/#{mark}/, ".")
        digits.include?(".") ? digits.to_f : digits.to_i
      end

      # What is a number in the other form is named as it is written here.
      def other(plain, mark, group, form)
        found = number(plain, group, mark) or return
        written = Show.plain_number(found).sub(".", mark)
        raise Unreadable, "Write #{written}: the house writes a #{form}"
      end
      private_class_method :without_unit, :number, :other
    end
  end
end
