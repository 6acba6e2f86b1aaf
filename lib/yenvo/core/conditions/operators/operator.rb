# frozen_string_literal: true

module Yenvo
  module Core
    module Operators
      # The base of all operators. A subclass says its words, what it takes and for which types, and answers
      # +holds?+ for a filled-in value; an empty value makes a test false unless +when_empty+ says otherwise.
      class Operator
        EXACT = %w[text url email phone number money date yes_no choice person link].freeze
        ORDERED = %w[number money].freeze

        class << self
          # Says the test once, as Ruby over +actual+ and +operand+. +holds?+ is made of it, and the closures over a
          # field of the record itself, which call nothing further: nearly all conditions are such, and each event is
          # held against many.
          # @param test [String]
          def asks(test)
            class_eval(<<~RUBY, __FILE__, __LINE__ + 1)
              def holds?(actual, operand) = #{test}

              def of_field(key, operand)
                empty = when_empty
                ->(facts) { (actual = facts.after[key]).nil? ? empty : (#{test}) }
              end

              def of_folded_field(key, operand)
                empty = when_empty
                ->(facts) { (actual = facts.after[key]&.downcase).nil? ? empty : (#{test}) }
              end
            RUBY
          end

          # "IsOneOf" is written is_one_of.
          def name_in_files = name.split("::").last.gsub(/(?<=[a-z])(?=[A-Z])/, "_").downcase
        end

        def name = self.class.name_in_files

        # @return [String] between the field and the value, such as "is one of"
        def words = name.tr("_", " ")

        # @return [Symbol] :nothing, :one, :many, :pair or :span
        def takes = :one

        # @return [Array<String>] types of fields it can be asked of
        def types = EXACT

        # @return [Boolean] the answer for an empty value
        def when_empty = false

        # @return [Symbol] what it looks at: :after, :before or :both
        def side = :after

        # @param actual [Object] filled in; texts are folded to small letters
        # @param operand [Object] read by the field, folded likewise
        def holds?(actual, operand) = raise(NotImplementedError)

        # The fast form.
        # @param get [Proc] from Facts to the folded value
        # @return [Proc] from Facts to true or false
        # @param other [Proc, nil] from Facts to the folded value that it is held against, instead of an operand
        def compile(get, operand, _before = nil, other: nil, **)
          empty = when_empty
          return ->(facts) { (actual = get.call(facts)).nil? ? empty : holds?(actual, operand) } unless other

          ->(facts) do
            ((actual = get.call(facts)).nil? || (beside = other.call(facts)).nil?) ? empty : holds?(actual, beside)
          end
        end

        # The fast form over a field that is kept with the record itself.
        # @param key [String] of the field
        # @return [Proc] from Facts to true or false
        def of_field(key, operand) = compile(->(facts) { facts.after[key] }, operand)

        # The same without regard to case.
        def of_folded_field(key, operand) = compile(->(facts) { facts.after[key]&.downcase }, operand)

        # @return [Array, nil] the values to one of which it pins a field, for the index of rules; nil when it pins none
        def pins(_operand) = nil

        # @param shown [String, nil] the operand as people read it
        # @return [String] such as "is one of Ireland, France"
        def phrase(shown) = [words, shown].compact.join(" ")

        # @return [Array] values worth looking at when all cases of a field are gone through
        def edges(operand) = Array(operand)
      end
    end
  end
end
