# frozen_string_literal: true

module Yenvo
  module Core
    module Triggers
      # Several triggers of one rule, any of which it runs on.
      class AnyOf < Trigger
        # Binds each, and checks what holds for them together.
        # @param plain [Hash] "any": Array of triggers as in a rule file
        # @return [AnyOf, nil] nil when problems were found
        def self.bind(plain, kind, schema, problems: [])
          before = problems.size
          all =
            plain["any"].each_with_index.map do |one, i|
              Triggers.bind(one, kind, schema, path: ["trigger", "any", i], problems:)
            end
          return unless problems.size == before

          several = new({"any" => all}, kind, schema)
          several.check(problems)
          several if problems.size == before
        end

        # @return [Array<Trigger>]
        attr_reader :all

        def prepare = @all = settings["any"]

        def check(problems)
          @all.each_with_index do |one, i|
            at = ["trigger", "any", i]
            problems << Problem.at(at, "must differ from the triggers before it") if seen_before?(one, i)
            if one.timer? && @all.first(i).any?(&:timer?)
              problems << Problem.at(at, "must be no timer, since one stands before it; make another rule")
            end
            if one.settings["once"] == true
              problems << Problem.at([*at, "once"], "must be left out beside other triggers, which are about a record")
            end
          end
        end

        def watch_keys = @all.flat_map(&:watch_keys).uniq

        def to_proc
          first, *rest = @all.map(&:to_proc)
          rest.inject(first) { |one, other| ->(facts) { one.call(facts) || other.call(facts) } }
        end

        # What pins values of its own asks for them under its own key alone.
        def beyond_key = (@all.all? { |one| one.beyond_key.nil? && one.pins.empty? }) ? nil : to_proc

        def pins = in_all(&:pins)
        def possible = in_all(&:possible)

        def met(facts) = @all.find { |one| one.to_proc.call(facts) } || super

        # What may be asked about a task may be asked only if there is always one.
        def task? = @all.all?(&:task?)
        def timer? = @all.any?(&:timer?)
        def daily? = @all.any?(&:daily?)
        def before_save? = @all.all?(&:before_save?)
        def short = @all.map(&:short).uniq.join(" or ")

        # @return [Timing] of the one timer among them
        def timing(rule) = @all.find(&:timer?).timing(rule)

        def sentence = @all.map(&:sentence).join(", or ")
        def miss(facts) = @all.map { |one| one.miss(facts) }.uniq.join("; ")

        private

        def seen_before?(one, index) =
          @all.first(index).any? { |other| other.same?(one) }

        # @return [Hash{String => Array}] fields that all of them name, with the values of all
        def in_all(&named)
          @all.map(&named).inject do |all, more|
            all.slice(*more.keys).merge(more.slice(*all.keys)) { |_, one, other| one | other }
          end
        end
      end
    end
  end
end
