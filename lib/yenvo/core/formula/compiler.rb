# frozen_string_literal: true

require "date"
require "dentaku"
require "time"

module Yenvo
  module Core
    class Formula
      # Turns the tree of a formula into closures, and finds what does not fit: unknown names, wrong types, too much
      # depth. An empty value makes what is worked out from it empty; a division by zero is empty too.
      class Compiler
        ARITHMETIC = {
          Dentaku::AST::Addition => :+, Dentaku::AST::Subtraction => :-, Dentaku::AST::Multiplication => :*,
          Dentaku::AST::Division => :/, Dentaku::AST::Modulo => :%
        }.freeze
        COMPARING = {
          Dentaku::AST::LessThan => :<, Dentaku::AST::LessThanOrEqual => :<=, Dentaku::AST::GreaterThan => :>,
          Dentaku::AST::GreaterThanOrEqual => :>=
        }.freeze
        TYPES = {
          "number" => :number, "money" => :number, "date" => :date, "datetime" => :datetime, "yes_no" => :yes_no,
          "choice" => :choice, "person" => :person
        }.freeze

        attr_reader :kind, :schema

        # @param kind [Schema::Kind] whose fields it is about
        # @param inner [Boolean] within a count or sum, where only own fields can be used
        def initialize(kind, schema, inner: false)
          @kind = kind
          @schema = schema
          @inner = inner
        end

        # @param source [String]
        # @return [Part]
        # @raise [Unreadable] a sentence
        def compile(source) = part(Parsing.tree(source), 0)

        # @return [Part]
        def part(node, depth)
          raise Unreadable, "must be nested at most #{MAX_DEPTH} deep" if depth > MAX_DEPTH

          case node
          when Dentaku::AST::Grouping
            part(node.instance_variable_get(:@node), depth + 1)
          when Dentaku::AST::Negation
            negated(part(node.node, depth + 1))
          when *ARITHMETIC.keys, *COMPARING.keys, *LOGIC
            operation(node, part(node.left, depth + 1), part(node.right, depth + 1))
          when Parsing::Call
            Functions.call(self, node, depth + 1)
          when Dentaku::AST::Identifier
            identifier(node.identifier.to_s)
          when Dentaku::AST::Nil
            Part.new(type: :empty, call: ->(_, _) {}, needs: [], day: false)
          when Dentaku::AST::Literal
            literal(node.value)
          else
            raise Unreadable,
              "must be made of fields, numbers, texts, + - * / %, comparisons and functions; " \
              "#{node.class.name.split("::").last.downcase} is none of these"
          end
        end

        LOGIC = [Dentaku::AST::Equal, Dentaku::AST::NotEqual, Dentaku::AST::And, Dentaku::AST::Or].freeze
        private_constant :LOGIC

        # @return [Part] of what has two sides
        def operation(node, left, right)
          case node
          when *ARITHMETIC.keys then arithmetic(ARITHMETIC.fetch(node.class), left, right)
          when *COMPARING.keys then compared(COMPARING.fetch(node.class), left, right)
          when Dentaku::AST::Equal then equal(left, right)
          when Dentaku::AST::NotEqual then negated_truth(equal(left, right))
          when Dentaku::AST::And
            truth(left, right) { |one, other| ->(f, i) { (one.call(f, i) && other.call(f, i)) || false } }
          else
            truth(left, right) { |one, other| ->(f, i) { one.call(f, i) || other.call(f, i) || false } }
          end
        end

        # @return [Part] with the parts' needs and days put together
        def made(type, *parts, **more, &call) =
          Part.new(type:, call:, needs: parts.flat_map(&:needs), day: parts.any?(&:day), **more)

        # @raise [Unreadable] when a part is none of the types
        def expect(part, *types, place)
          return part if types.include?(part.type) || part.type == :empty

          raise Unreadable,
            "must have a #{types.map { |type| type.to_s.tr("_", " ") }.join(" or ")} #{place}; this is a " \
            "#{part.type.to_s.tr("_", " ")}"
        end

        # @return [Part]
        def equal(left, right)
          left, right = fitted(left, right)
          one = left.call
          other = right.call
          made(:yes_no, left, right) { |f, i| Compiler.fold(one.call(f, i)) == Compiler.fold(other.call(f, i)) }
        end

        # What is worked out on the way may be larger than what a field can hold, but not without end.
        MOST_ON_THE_WAY = 1e30
        def self.bounded(number) = (number.abs > MOST_ON_THE_WAY) ? nil : number

        # Texts compare without case, as they do in conditions.
        def self.fold(value) = value.is_a?(String) ? value.downcase : value

        # @return [Array(Integer, Integer), nil] how days from one to the other go on when one of them is today
        def self.days_slide(from, to)
          return [1, 0] if to.literal == :today && !from.day

          [-1, 0] if from.literal == :today && !to.day
        end

        # @return [Date, nil] nil beyond what a calendar can hold
        def self.days_on(date, days) = (days.abs < 1_000_000) ? date + days.floor : nil

        # @return [Proc] from the plain form to dates and moments that can be counted with
        def self.typed(get, type)
          case type
          when "date" then ->(f, i) { (value = get.call(f, i)) && Date.iso8601(value) }
          when "datetime" then ->(f, i) { (value = get.call(f, i)) && Reading.time(value) }
          else get
          end
        end

        private

        def negated(part)
          get = expect(part, :number, "after the minus").call
          made(:number, part, slide: part.pace&.map { |step| -step }) { |f, i| (value = get.call(f, i)) && -value }
        end

        def negated_truth(part)
          get = part.call
          made(:yes_no, part) { |f, i| !get.call(f, i) }
        end

        def truth(left, right)
          [left, right].each { |part| expect(part, :yes_no, "on each side of and, or") }
          made(:yes_no, left, right, & yield(left.call, right.call))
        end

        def arithmetic(sign, left, right)
          if %i[+ -].include?(sign) && (%i[date datetime] & [left.type, right.type]).any?
            return dated(sign, left, right)
          end
          return joined(left, right) if sign == :+ && [left.type, right.type].include?(:text)

          one = expect(left, :number, "before #{sign}").call
          other = expect(right, :number, "after #{sign}").call
          case sign
          when :/, :%
            made(:number, left, right) do |f, i|
              a = one.call(f, i)
              b = other.call(f, i)
              if a.nil? || b.nil? || b.zero?
                nil
              else
                ((sign == :/) ? a.to_f / b : a % b)
              end
            end
          else
            made(:number, left, right, slide: slide(sign, left, right)) do |f, i|
              (a = one.call(f, i)) && (b = other.call(f, i)) && Compiler.bounded(a.public_send(sign, b))
            end
          end
        end

        def slide(sign, left, right)
          one, other = left.pace, right.pace
          return unless one && other
          return [one, other].transpose.map { |a, b| a.public_send(sign, b) } unless sign == :*

          factor, slid = left.literal.is_a?(Numeric) ? [left.literal, other] : [right.literal, one]
          slid.map { |step| step * factor } if factor.is_a?(Numeric) || slid == [0, 0]
        end

        # A date and a number of days, or the days between two dates.
        def dated(sign, left, right)
          one = left.call
          other = right.call
          if sign == :- && left.type == :date && right.type == :date
            slide = Compiler.days_slide(right, left)
            return (
              made(:number, left, right, slide:) do |f, i|
                (a = one.call(f, i)) && (b = other.call(f, i)) && (a - b).to_i
              end
            )
          end
          unless left.type == :date && right.type == :number
            raise Unreadable,
              "must add days to a date or take them off (launch_date - 3); two dates can be subtracted, and " \
              "days_between counts between moments"
          end

          made(:date, left, right) do |f, i|
            (a = one.call(f, i)) && (b = other.call(f, i)) && Compiler.days_on(a, (sign == :+) ? b : -b)
          end
        end

        def joined(left, right)
          one = expect(left, :text, :choice, "before +").call
          other = expect(right, :text, :choice, "after +").call
          made(:text, left, right) { |f, i| Reading.cut("#{one.call(f, i)}#{other.call(f, i)}") }
        end

        def compared(sign, left, right)
          left, right = fitted(left, right)
          expect(left, :number, :date, :datetime, :text, "beside #{sign}")
          one = left.call
          other = right.call
          made(:yes_no, left, right) do |f, i|
            a = one.call(f, i)
            b = other.call(f, i)
            !a.nil? && !b.nil? && Compiler.fold(a).public_send(sign, Compiler.fold(b))
          end
        end

        # Both sides in types that can be held against each other; a text literal beside a choice becomes its key.
        def fitted(left, right)
          left = keyed(left, right) if right.field
          right = keyed(right, left) if left.field
          if left.type == right.type || [left.type, right.type].include?(:empty) ||
              ([left.type, right.type] - %i[text choice person]).empty?
            return left, right
          end

          raise Unreadable,
            "must compare two values of one type; a #{left.type.to_s.tr("_", " ")} and a " \
            "#{right.type.to_s.tr("_", " ")} are not"
        end

        def keyed(part, beside)
          return part unless part.literal.is_a?(String)

          field = beside.field
          choice = field.choices.find { |one| one.key == part.literal || one.label.casecmp?(part.literal) }
          unless choice
            raise Unreadable,
              "must name a choice of #{field.label} (#{field.choices.map(&:key).first(12).join(", ")}); " \
              "#{part.literal[0, 40].inspect} is none"
          end

          key = choice.key
          part.with(type: :choice, call: ->(_, _) { key })
        end

        def literal(value)
          case value
          when BigDecimal then fixed(:number, value.frac.zero? ? value.to_i : value.to_f)
          when Numeric then fixed(:number, value)
          when true, false then always(:yes_no, value)
          when Date, Time then always(:date, Date.new(value.year, value.month, value.day))
          else fixed(:text, value.to_s.dup.freeze)
          end
        end

        def always(type, value, **more) = Part.new(type:, call: ->(_, _) { value }, needs: [], day: false, **more)

        # What can be seen while the formula is read.
        def fixed(type, value) = always(type, value, literal: value)

        def identifier(name)
          return today if name == "today"
          return literal(name.delete_prefix(Parsing::TEXT)) if name.start_with?(Parsing::TEXT)
          if @inner && name.include?(".")
            raise Unreadable,
              "must not go over a link within a count or sum; only the fields of the counted records can stand there"
          end

          found, wrong = Reference.find(name, kind, schema)
          raise Unreadable, wrong if wrong
          if @inner && found.field.worked_out?
            raise Unreadable,
              "must not use the worked-out field #{found.label} within a count or sum; only fields that are kept " \
              "can stand there"
          end

          of_field(found)
        end

        def today
          calendar = schema.calendar
          Part.new(type: :date, call: ->(facts, _) { facts.today(calendar) }, needs: [], day: true, literal: :today)
        end

        def of_field(reference)
          field = reference.field
          type = field.textual? ? :text : TYPES[field.type]
          unless type
            raise Unreadable, "must use fields with one value; #{reference.label} is a #{field.type_words} field"
          end

          Part.new(
            type:, call: Compiler.typed(reference.image_getter, field.type), needs: reference.needs,
            day: reference.day?, field: (field if type == :choice), slide: reference.slide
          )
        end
      end
    end
  end
end
