# frozen_string_literal: true

module Yenvo
  module Core
    module Actions
      # The base of actions. An action is tied to the schema once and then plans effects for event after event.
      class Action
        class << self
          # @return [Hash{String => Symbol}] settings it takes: name to :target, :template, :assign, :settings, :group,
          #   :date, :keys (a list of names), :receivers, :readings, :attach, :kept (a text or paper of the set-up),
          #   :flag, :time or :text
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

        # @param name [String] of a setting with words, which may come from a text of the set-up instead
        def template(name)
          source = source_of(name)
          return text(source, settings["saved"] ? "saved" : name) unless source.strip.empty?
          return wrong(name, "must have words") unless settings["saved"]

          wrong("saved", "must be a text with a #{name}; this one has none") if saved
        end

        # @return [Hash{String => String}, nil] "subject" and "text" of the text of the set-up that it takes
        def saved
          return @saved if defined?(@saved)

          found = kept("saved", @schema.texts)
          @saved = found && version_of(found, "saved") { |number| @schema.library.text(found.key, number) }
        end

        # @yieldparam number [Integer]
        # @return [Object, nil] the version that the rule takes, as it lies in the library
        def version_of(kept, name)
          number = kept.version(settings[name])
          yield(number) || wrong([name, "version"], "must be a version that there is; #{kept.name} has no #{number}")
        end

        # @return [String] words for lists
        def source_of(name) = (settings["saved"] ? saved.to_h : settings)[name].to_s

        # @param name [String] of the setting that names a text or paper of the set-up
        # @param known [Hash{String => Schema::Kept}]
        # @return [Schema::Kept, nil]
        def kept(name, known)
          key = settings[name].to_h["key"].to_s
          found = known[key]
          return found if found&.for?(@kind)

          fitting = known.each_value.select { |one| one.for?(@kind) }.map(&:key).first(20).join(", ")
          fitting = fitting.empty? ? "there is none yet for a #{@kind.noun}" : "known: #{fitting}"
          wrong([name, "key"], "must be one of the set-up, for a #{@kind.noun}; #{fitting}")
        end

        # Each of these ties something written to the schema, remembers what it needs, and says with its place what is
        # wrong.
        # @return [Object, nil]
        def text(source, *place) = tied(Text.bind(source, @kind, @schema, path: path(*place), problems: @problems))

        def date(rule, *place) =
          tied(BoundDate.bind(rule, @kind, @schema, @schema.calendar, path: path(*place), problems: @problems))

        # @param kind [Schema::Kind] of the record that is set
        # @return [Array<BoundSetting>]
        def fields_set(kind) =
          settings["values"].to_a.each_with_index.filter_map do |one, i|
            tied(BoundSetting.bind(one, kind, @kind, @schema, path: path("values", i), problems: @problems))
          end

        def group(written, kind, *place) =
          BoundGroup.bind(written, kind, @schema, path: path(*place), problems: @problems)

        def tied(bound) = bound&.tap { |one| @needs += one.needs }

        # @param known [Array<String>] what stands there, if anything does
        def check_one_of(known, value, *place) =
          value.nil? || known.include?(value) || wrong(place, "must be one of #{known.join(", ")}")

        # Who it is for, and who else when that is nobody or away.
        # @param place [Array<String, Integer>] where the two stand
        # @param people_only [Boolean] whether a queue cannot be it
        # @param unsaid [String] what is wrong when nobody is named
        # @return [Assignment::Chooser, nil]
        def chooser(written =
          settings["assign"], other = settings["fallback"], *place, people_only: true, unsaid: "must say who")
          way = written && way(written, people_only, *place, "assign")
          fallback = other && way(other, people_only, *place, "fallback")
          wrong([*place, "assign"], unsaid) unless written
          if way&.may_fail? && other.nil?
            wrong([*place, "fallback"], "must name somebody for when #{way.described} is nobody or away")
          end
          @needs += of_task
          Assignment::Chooser.new(way, fallback, @schema) if way
        end

        # Whose the record of a task is decides who may be given a task about it.
        def of_task = (@kind.task? && @schema.hides?) ? [Need.new(chain: [Schema::Subjects::ABOUT], over: nil)] : []

        # @param target [Target, nil] nil for the record of the rule
        # @return [Array(Schema::Kind, String), nil] kind and owner of the record that a task or notice is about; nil
        #   where everybody may see it
        def whose(facts, target = nil)
          return unless @schema.hides?

          return facts.place(@schema) if target.nil? || target.own?

          image = facts.linked[target.find(facts)]
          kind = image && @schema.kind(image["kind"])
          [kind, image["owner"]] if kind
        end

        # @return [Facts] as texts see them that are read where the target is
        def read_there(facts, target) = @schema.hides? ? facts.read_at(whose(facts, target)) : facts

        def way(written, people_only, *place)
          type = Assignment.all.fetch(written["to"])
          if people_only && type == Assignment::Queue
            return wrong([*place, "to"], "must be a person; a queue cannot be one")
          end

          type.bind(written.except("to"), @kind, @schema, path: path(*place), problems: @problems)
            &.tap { |way| @needs += way.references.flat_map(&:needs) }
        end

        def today(now) = @schema.calendar.date_of(now)
        def fill(text, facts, now, rule_name) = text.fill(facts, rule_name:, today: today(now)).strip

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
