# frozen_string_literal: true

module Yenvo
  module Core
    module Triggers
      # The base of all triggers. +settings+ is what stands in the rule file beside "when", as read by the reader.
      class Trigger
        class << self
          # @return [Hash{String => Symbol}] settings it takes: name to :field, :code (a text) or what a list holds:
          #   :values, :stages, :kinds, :lists, :ways, :persons, :teams, :person_fields; :flag for yes or no
          def takes = {}

          # @return [Boolean] whether it watches tasks, so that a rule may ask about "the task"
          def task? = false

          # @return [Boolean] whether a rule about tasks can have it
          def of_tasks? = task?

          # @return [String] the same, to choose by in a rule about tasks
          def task_words = words

          # @return [Array<String>] the settings without which it cannot be
          def needs = []

          # @return [String] a short name for lists, such as "change"
          def short = "change"

          # @return [String] such as "is made", to choose by
          def words = raise(NotImplementedError)
        end

        attr_reader :settings, :kind, :schema

        # @param other [Trigger]
        # @return [Boolean] whether it hears the same
        def same?(other) = other.instance_of?(self.class) && other.settings == settings

        # @param settings [Hash{String => Object}]
        # @return [Trigger, nil] nil when problems were found
        def self.bind(settings, kind, schema, problems: [])
          before = problems.size
          trigger = new(settings, kind, schema)
          trigger.check(problems)
          (problems.size == before) ? trigger : nil
        end

        def initialize(settings, kind, schema)
          @settings = settings
          @kind = kind
          @schema = schema
          prepare
        end

        # Reads the settings once. Unreadable ones are reported by +check+.
        def prepare = nil

        # @param problems [Array<Problem>]
        def check(problems) = nil

        # @return [Array<Array>] keys of the index of rules under which it is looked up: ["made"], ["field", key],
        #   ["any"]
        def watch_keys = raise(NotImplementedError)

        # @return [Proc] from Facts to true or false
        def to_proc = raise(NotImplementedError)

        # @return [Proc, nil] what there is still to ask of an event that was found under one of +watch_keys+ and has
        #   one of the values that +pins+ names; nil for nothing
        def beyond_key = to_proc

        # @return [String] what the journal calls such an event
        def what = "record_changed"

        # @return [Hash] the detail of such an event, for thinking one up
        def sample_detail = {}

        # @param image [Hash] a record
        def task? = false

        # @return [Boolean] whether time pulls it, not an event
        def timer? = false

        # @return [Boolean] whether a rule with it also fires on the day on which its conditions become true of
        #   themselves
        def daily? = false

        # @return [String, nil] somebody who can cause such an event, nil when anybody can
        def sample_who(_image) = nil

        # @return [Boolean] whether a rule that changes the record before it is saved may watch it
        def before_save? = false

        # @return [Hash{String => Array}] own fields whose values after the event it pins
        def pins = {}

        # @return [Array<Trigger>] itself, or those of which any will do
        def all = [self]

        # @return [Trigger] of those, the one that meets an event
        def met(_facts) = self

        # @return [String] a short name for lists, such as "change"
        def short = self.class.short

        # @return [String] such as "Stage becomes Survey booked"
        def sentence = raise(NotImplementedError)

        # Makes the event that this trigger would meet if it happened to a record as it stands now.
        # @param image [Hash] the record now
        # @return [Array(Hash, Hash), nil] before and after; nil when it cannot happen to this record
        def imagine(image) = raise(NotImplementedError)

        # @return [Hash{String => Array}] own fields and the values that a record can have now to be met; narrows a try
        def possible = pins

        # @return [String] why an event is not met
        def miss(_facts) = "The trigger is another: #{sentence}"

        private

        # @return [Array<String>, nil] a list of settings; nil when none is given, so that all are meant
        def some(name) = (settings[name] && !Array(settings[name]).empty?) ? Array(settings[name]) : nil

        # @param before [String] what stands before the values, if there are any
        def either(name, before) = some(name)&.then { |all| "#{before}#{all.join(" or ")}" }

        def check_known(name, known, words, problems)
          unknown = (some(name) || []) - known.keys
          if unknown.any?
            problems << Problem.at(
              ["trigger", name],
              "must name #{words} (#{known.keys.first(20).join(", ")}); #{unknown.join(", ")} is none"
            )
          end
        end

        def labels(name, known, joiner = " or ") = some(name)&.map { |key| known[key] || key }&.join(joiner)

        def stage_labels(keys) = keys.map { |key| kind.field("stage").choice_label(key) }.join(" or ")

        def check_stages(name, problems)
          unknown = Array(settings[name]) - kind.stages.map(&:key)
          return if unknown.empty?

          known = kind.stages.map(&:key).join(", ")
          problems << Problem.at(
            ["trigger", name],
            "must name #{kind.stage_label.downcase}s of a #{kind.label.downcase} (#{known}); #{unknown.join(", ")} " \
            "is none"
          )
        end
      end
    end
  end
end
