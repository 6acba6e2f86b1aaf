# frozen_string_literal: true

module Yenvo
  module Core
    # What a plan can do to the world: a closed list of verbs. Whatever an action is called, it plans these and nothing
    # else, and whoever knows them all is a world: the live one writes, the thought one of Ahead only changes its copy.
    # What a verb did comes back as plain values, from which the same verb is taken back.
    module Effects
      # @return [Registry] a class by the verb
      def self.all
        @all ||=
          Registry.new(
            "verb",
            [
              Nothing, PlannedTask, ChangeRecord, MakeRecord, PutOnList, TakeOffList, LogInteraction, TellPersons,
              MakePaper, SendOut, ChangeTasks, CommentOnTask, BeginKit, BeginLadder, LeaveRest, StopSave
            ].to_h { |type| [type::VERB, type] }
          )
      end

      # What runs have kept that were written before a step was kept with its verb: action to verb.
      FORMER = {
        "none" => "nothing", "task" => "make_task", "set" => "change_record", "assign" => "change_record",
        "move" => "change_record", "record" => "make_record", "log" => "log_interaction", "notice" => "tell_persons",
        "tasks" => "change_tasks", "kit" => "begin_kit", "ladder" => "begin_ladder", "wait" => "leave_rest"
      }.freeze
      private_constant :FORMER

      # @param kept [Hash] a step as a run keeps it
      # @return [Class] the verb of it
      def self.of(kept)
        former = kept.dig("did", "gone") ? "take_off_list" : "put_on_list"
        all.fetch(kept["verb"] || FORMER.fetch(kept["action"], former))
      end

      # @return [Array<Symbol>] what a world has to know; each takes the effect and gives what it did, as plain values
      def self.verbs = all.names.map(&:to_sym)

      # Makes the class of a verb.
      # @param verb [Symbol] its name, which is a method of every world
      # @param names, usual see Value.define; besides, each has action (its name in a rule file, "none" when there is
      #   nothing to do), words (a sentence for people), notes (how dates and values came about) and reason (why who was
      #   chosen, or nil)
      def self.define(verb, *names, **usual, &body)
        Value.define(:action, :words, *names, notes: [], reason: nil, **usual) do
          include Step

          const_set(:VERB, verb.to_s)
          class_eval(&body) if body
        end
      end
    end
  end
end
