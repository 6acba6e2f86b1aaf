# frozen_string_literal: true

require "dentaku"

module Yenvo
  module Core
    class Formula
      # Reads the source of a formula into a tree, with Dentaku's tokenizer and parser (its functions and its evaluation
      # are not used: names are looked up by Formula::Compiler, so that a formula can reach nothing but what is in
      # there).
      module Parsing
        # A call of a function, whatever its name; Compiler knows which there are.
        class Call < Dentaku::AST::Function
          class << self
            attr_accessor :called

            def arity = nil
            def min_param_count = 0
            def max_param_count = 9
          end

          def name = self.class.called
          def type = nil

          # Dentaku asks no more of a node that depends on something.
          def dependencies(_context = {}) = ["a call"]
        end

        # Before a text in quotes; no name can begin like this.
        TEXT = "\u0001"

        # Gives a Call for any name.
        class AnyName
          def get(name) = Class.new(Call).tap { |type| type.called = name.to_s }
        end

        module_function

        # @return [Dentaku::AST::Node]
        # @raise [Unreadable] a sentence
        def tree(source)
          check_source(source)
          spaced = source.gsub(/\b(and|or)\(/i, '\1 (').tr("\n\t", "  ")
          tokens = Dentaku::Tokenizer.new.tokenize(spaced, case_sensitive: true)
          check_tokens(tokens)
          # Dentaku takes no texts beside +, so they pass as names.
          tokens.map! do |token|
            (token.category == :string) ? Dentaku::Token.new(:identifier, TEXT + token.value, token.raw_value) : token
          end
          Dentaku::Parser.new(tokens, function_registry: AnyName.new, case_sensitive: true).parse
        rescue Dentaku::ParseError,
          Dentaku::TokenizerError, Dentaku::ArgumentError, ::ArgumentError, NoMethodError, TypeError => error
          # Dentaku meets some broken input with errors of Ruby's own; for who writes it, it is the same.
          raise Unreadable,
            "must be a whole formula, such as value * 0.1 or days_between(last_contact, today): #{reason(error)}"
        end

        def check_source(source)
          if source.size > MAX_SOURCE
            raise Unreadable, "must have at most #{MAX_SOURCE} characters; this has #{Show.count(source.size)}"
          end
          raise Unreadable, "must have something to work out" if source.strip.empty?
          return if source.valid_encoding? && !source.include?("\u0000")

          raise Unreadable, "must be without characters that cannot be kept"
        end

        def check_tokens(tokens)
          raise Unreadable, "must have at most #{MAX_NODES} pieces; this has #{tokens.size}" if tokens.size > MAX_NODES

          huge = tokens.find { |token| token.category == :numeric && token.value.abs > Reading::MAX_NUMBER } or return
          most = Show.count(Reading::MAX_NUMBER)
          raise Unreadable, "must have numbers up to #{most}; #{huge.raw_value.to_s[0, 20]} is beyond"
        end

        def reason(error)
          case error
          when Dentaku::TokenizerError
            "it cannot be read from some character on; brackets and quotes must be closed"
          when Dentaku::ParseError
            {
              undefined_function: "there is no such function", too_few_operands: "something is missing beside a sign",
              unbalanced_parenthesis: "a bracket is not closed"
            }.fetch(error.reason, "its pieces do not fit together")
          else
            "its pieces do not fit together"
          end
        end
      end
    end
  end
end
