# frozen_string_literal: true

module Yenvo
  module Core
    module Actions
      # The base of actions. An action is tied to the schema once and then plans effects for event after event.
      class Action
        class << self
          # @return [Hash{String => Symbol}] settings it takes: name to :target, :template, :assign, :settings, :group,
          #   :date, :keys (a list of names) or :text
          def takes = {}

          # @return [Array<String>] the settings without which it cannot be
          def required = []

          # @return [String] to choose by, such as "Set fields"
          def words = raise(NotImplementedError)

          # @return [Boolean] whether it can stand in a rule that runs before the save
          def before_save? = false

          # @return [Boolean] whether it can stand in a rule that runs after it
          def after_save? = true
        end

        attr_reader :needs

        # @param doing [Doing]
        # @param kind [Schema::Kind]
        # @param place [Place]
        # @param problems [Array<Problem>]
        def initialize(doing, kind, schema, place, problems)
          @doing = doing
          @kind = kind
          @schema = schema
          @place = place
          @problems = problems
          @needs = []
          prepare
          @problems = nil
        end

        # @return [Schema::Kind, nil] kind of the record that it makes
        def made_kind = nil

        # @return [Boolean] whether it changes the record that the rule is about and nothing else
        def own_only? = false

        # @param facts [Facts]
        # @param now [Time] moment of the run
        # @return [Array<Effects::Step>] what is to be done, in order; empty when there is nothing to do
        # @raise [Error] a sentence, when it cannot be planned
        def plan(facts, now:, rule_name:) = raise(NotImplementedError)

        # @return [String] in lists, such as "Severity → Unsafe"
        def shown = self.class.words

        private

        def settings = @doing.settings
        def path(*steps) = [*@place.path, *steps]
        def wrong(step, sentence) = @problems.push(Problem.at(path(*step), sentence)) && nil

        def target
          @target = Target.bind(settings["of"], @kind, @schema, @place, @problems)
          @needs += @target.needs if @target
          @target
        end

        def template(name, most: Text::MAX_SOURCE)
          source = settings[name].to_s
          return wrong(name, "must have words") if source.strip.empty?

          Text.bind(source, @kind, @schema, path: path(name), problems: @problems)&.tap { |text| @needs += text.needs }
        end

        def chooser(name, fallback, people_only: true)
          ways =
            [[settings[name], name], [settings[fallback], fallback]].map do |written, step|
              way(written, step, people_only)
            end
          wrong(name, "must say who") unless settings[name]
          if ways[0]&.may_fail? && settings[fallback].nil?
            wrong(fallback, "must name somebody for when #{ways[0].described} is nobody or away")
          end
          Assignment::Chooser.new(ways[0], ways[1], @schema, @schema.calendar) if ways[0]
        end

        def way(written, step, people_only)
          return unless written

          type = Assignment.all.fetch(written["to"])
          if people_only && type == Assignment::Queue
            return wrong([step, "to"], "must be a person; a queue cannot be one")
          end

          type.bind(written.except("to"), @kind, @schema, path: path(step), problems: @problems)
            &.tap { |way| @needs += way.references.flat_map(&:needs) }
        end

        def fill(text, facts, now, rule_name) =
          text.fill(facts, rule_name:, today: @schema.calendar.zone.date_of(now)).strip

        def show(field, value, facts) = Show.value(field, value, @schema, facts.titles)

        # @param verb [Class] of Effects
        # @return [Effects::Step]
        def effect(verb, words, **own) = verb.new(action: @doing.name, words:, **own)

        # @return [Array<Effects::Nothing>] one that only says why there is nothing to act on
        def nothing(why) =
          [Effects::Nothing.new(action: "none", words: "Nothing to do: #{why}")]
      end
    end
  end
end
