# frozen_string_literal: true

module Yenvo
  module Core
    class Formula
      # The functions of formulas. Each takes parts and gives a part.
      module Functions
        MAX_DIGITS = 6
        # name => [smallest and largest number of values, example, words]
        ALL = {
          "if" => [3, 3, "if(deposit_in, value - deposit, value)", "one of two values"],
          "empty" => [1, 1, "empty(survey_date)", "whether nothing is in it"],
          "filled" => [1, 1, "filled(survey_date)", "whether something is in it"],
          "not" => [1, 1, "not(deposit_in)", "the opposite"],
          "or_else" => [2, 2, "or_else(deposit, 0)", "the first value, or the second where the first is empty"],
          "round" => [1, 2, "round(value * 0.07, 2)", "rounded, to so many digits"],
          "round_up" => [1, 1, "round_up(boat_length)", "the next whole number above"],
          "round_down" => [1, 1, "round_down(boat_length)", "the next whole number below"],
          "abs" => [1, 1, "abs(value)", "without its minus"],
          "min" => [2, 9, "min(value, 500)", "the least of the values"],
          "max" => [2, 9, "max(value, 500)", "the greatest of the values"],
          "days_between" => [2, 2, "days_between(last_contact, today)", "days from one to the other"],
          "working_days_between" => [
            2, 2, "working_days_between(last_contact, today)", "working days from one to the other"
          ],
          "working_hours_between" => [
            2, 2, "working_hours_between(made, last_contact)", "working hours from one moment to the other"
          ],
          "add_days" => [2, 2, "add_days(survey_date, 3)", "so many days later"],
          "add_working_days" => [2, 2, "add_working_days(today, 3)", "so many working days later"],
          "add_months" => [2, 2, "add_months(launch_date, 6)", "so many months later, or the last day of that month"],
          "day_of" => [1, 1, "day_of(last_contact)", "the local day of a moment"],
          "year" => [1, 1, "year(launch_date)", "the year"],
          "month" => [1, 1, "month(launch_date)", "the month, 1 to 12"],
          "weekday" => [1, 1, "weekday(launch_date)", "the day of the week, 1 for Monday to 7"],
          "length" => [1, 1, "length(title)", "number of characters"],
          "contains" => [2, 2, "contains(title, 'refit')", "whether a text has another in it"],
          "lower" => [1, 1, "lower(title)", "in small letters"], "upper" => [1, 1, "upper(title)", "in capitals"],
          "count" => [
            1, 2, "count(ticket.boat, stage != 'closed')",
            "number of records that lead here, or of tasks, perhaps of those for which something holds"
          ],
          "sum" => [2, 3, "sum(deal.boat_owner, value)", "sum over records that lead here, or tasks"],
          "least" => [2, 3, "least(tasks, due, open)", "the least over records that lead here, or tasks"],
          "greatest" => [2, 3, "greatest(deal.boat_owner, value)", "the greatest over records that lead here, or tasks"]
        }.freeze

        module_function

        # @param compiler [Compiler]
        # @param node [Parsing::Call]
        # @return [Part]
        # @raise [Unreadable]
        def call(compiler, node, depth)
          least, most, =
            ALL.fetch(node.name) do
              raise Unreadable,
                "must use known functions (#{ALL.keys.join(", ")}); there is no #{node.name[0, 40].inspect}"
            end
          unless node.args.size.between?(least, most)
            raise Unreadable,
              "must give #{node.name} #{(least == most) ? least : "#{least} to #{most}"} values, as in " \
              "#{ALL[node.name][2]}"
          end
          return Aggregates.call(compiler, node, depth) if %w[count sum least greatest].include?(node.name)

          send("f_#{node.name}", compiler, *node.args.map { |arg| compiler.part(arg, depth) })
        end

        def f_if(compiler, test, one, other)
          compiler.expect(test, :yes_no, "first in if")
          type = [one.type, other.type] - [:empty]
          type = [:text] if (type - %i[text choice]).empty? && type.size > 1 && type.uniq.size > 1
          raise Unreadable, "must give if two values of one type" if type.uniq.size > 1

          ask, yes, no = test.call, one.call, other.call
          compiler.made(type.first || :empty, test, one, other, field: one.field && other.field && one.field) do |f, i|
            ask.call(f, i) ? yes.call(f, i) : no.call(f, i)
          end
        end

        def f_empty(compiler, part) =
          compiler.made(:yes_no, part, &part.call.then { |get| ->(f, i) { get.call(f, i).nil? } })

        def f_filled(compiler, part) =
          compiler.made(:yes_no, part, &part.call.then { |get| ->(f, i) { !get.call(f, i).nil? } })

        def f_not(compiler, part) =
          compiler.made(
            :yes_no, compiler.expect(part, :yes_no, "in not"), &part.call.then { |get| ->(f, i) { !get.call(f, i) } }
          )

        def f_or_else(compiler, one, other)
          unless one.type == other.type || [one.type, other.type].include?(:empty) ||
              ([one.type, other.type] - %i[text choice]).empty?
            raise Unreadable, "must give or_else two values of one type"
          end

          first, second = one.call, other.call
          compiler.made((one.type == :empty) ? other.type : one.type, one, other) do |f, i|
            (value = first.call(f, i)).nil? ? second.call(f, i) : value
          end
        end

        def f_round(compiler, part, digits = nil)
          get = compiler.expect(part, :number, "in round").call
          places = digits ? compiler.expect(digits, :number, "second in round").call : ->(_, _) { 0 }
          compiler.made(:number, part, *digits) do |f, i|
            (value = get.call(f, i)) && (to = places.call(f, i)) &&
              finite(value)&.round(to.to_i.clamp(0, MAX_DIGITS), half: :up)
          end
        end

        def f_round_up(compiler, part) = numeric(compiler, part) { |value| finite(value)&.ceil }
        def f_round_down(compiler, part) = numeric(compiler, part) { |value| finite(value)&.floor }
        def f_abs(compiler, part) = numeric(compiler, part, &:abs)

        def finite(value) = (value.is_a?(Float) && !value.finite?) ? nil : value

        def f_min(compiler, *parts) = among(compiler, parts, :min)
        def f_max(compiler, *parts) = among(compiler, parts, :max)

        def among(compiler, parts, which)
          types = parts.map(&:type).uniq - [:empty]
          unless types.size == 1 && %i[number date datetime].include?(types[0])
            raise Unreadable, "must give min and max numbers alone, or dates alone"
          end

          gets = parts.map(&:call)
          compiler.made(types[0], *parts) do |f, i|
            gets.map { |get| get.call(f, i) }.then { |all| all.any?(&:nil?) ? nil : all.public_send(which) }
          end
        end

        def numeric(compiler, part)
          get = compiler.expect(part, :number, "in this function").call
          compiler.made(:number, part) { |f, i| (value = get.call(f, i)) && yield(value) }
        end

        def f_days_between(compiler, from, to) =
          between(compiler, from, to, Compiler.days_slide(from, to)) { |_, a, b| (b - a).to_i }

        def f_working_days_between(compiler, from, to) =
          between(compiler, from, to, Compiler.days_slide(from, to)&.reverse) do |calendar, a, b|
            ((b - a).abs > Calendar::MAX_DAYS_AHEAD) ? nil : calendar.working_days(a, b)
          end

        def f_working_hours_between(compiler, from, to)
          calendar = compiler.schema.calendar
          one, other = [from, to].map { |part| compiler.expect(part, :datetime, "in working_hours_between").call }
          compiler.made(:number, from, to) do |f, i|
            (a = one.call(f, i)) && (b = other.call(f, i)) && ((b - a).abs < Calendar::MAX_DAYS_AHEAD * 86_400) &&
              (calendar.working_minutes(a, b) / 60.0).round(1) || nil
          end
        end

        def between(compiler, from, to, slide)
          calendar = compiler.schema.calendar
          one, other = [from, to].map { |part| local_day(compiler, part) }
          compiler.made(:number, from, to, slide:) do |f, i|
            (a = one.call(f, i)) && (b = other.call(f, i)) && yield(calendar, a, b)
          end
        end

        # @return [Proc] to the local day of a date or moment
        def local_day(compiler, part)
          get = compiler.expect(part, :date, :datetime, "here").call
          return get unless part.type == :datetime

          zone = compiler.schema.calendar.zone
          ->(f, i) { (value = get.call(f, i)) && zone.date_of(value) }
        end

        def f_add_days(compiler, date, count) = later(compiler, date, count) { |_, day, by| Compiler.days_on(day, by) }

        def f_add_working_days(compiler, date, count) =
          later(compiler, date, count) do |calendar, day, by|
            (by.abs > 2_000) ? nil : calendar.add_working_days(day, by)
          end

        def f_add_months(compiler, date, count) =
          later(compiler, date, count) { |calendar, day, by| (by.abs > 2_400) ? nil : calendar.add_months(day, by) }

        def later(compiler, date, count)
          calendar = compiler.schema.calendar
          get = local_day(compiler, date)
          by = compiler.expect(count, :number, "second here").call
          compiler.made(:date, date, count) do |f, i|
            (day = get.call(f, i)) && (n = finite(by.call(f, i) || Float::NAN)) && yield(calendar, day, n.to_i)
          end
        end

        def f_day_of(compiler, part) = compiler.made(:date, part, &local_day(compiler, part))
        def f_year(compiler, part) = of_day(compiler, part, &:year)
        def f_month(compiler, part) = of_day(compiler, part, &:month)
        def f_weekday(compiler, part) = of_day(compiler, part, &:cwday)

        def of_day(compiler, part)
          get = local_day(compiler, part)
          compiler.made(:number, part) { |f, i| (day = get.call(f, i)) && yield(day) }
        end

        def f_length(compiler, part) = textual(compiler, part, :number, &:length)
        def f_lower(compiler, part) = textual(compiler, part, :text, &:downcase)
        def f_upper(compiler, part) = textual(compiler, part, :text, &:upcase)

        def textual(compiler, part, type)
          get = compiler.expect(part, :text, "in this function").call
          compiler.made(type, part) { |f, i| (value = get.call(f, i)) && yield(value) }
        end

        def f_contains(compiler, text, other)
          one, two = [text, other].map { |part| compiler.expect(part, :text, "in contains").call }
          compiler.made(:yes_no, text, other) do |f, i|
            (a = one.call(f, i)) && (b = two.call(f, i)) && a.downcase.include?(b.downcase) || false
          end
        end
      end
    end
  end
end
