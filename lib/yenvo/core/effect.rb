# frozen_string_literal: true

module Yenvo
  module Core
    # Something that a plan would do, other than making a task. action: its name in Actions.all, "none" when there is
    # nothing to do; words: a sentence for people; target: id of the record it is about, or [:made, number] for what an
    # earlier action of the row makes; data: Hash of plain values for whoever carries it out; notes: how dates and values
    # came about; reason: why who was chosen, or nil.
    Effect = Value.define(:action, :words, :target, :data, :notes, :reason) do
      # @return [Boolean] whether it begins a kit on the record of the rule, with tasks that open no records
      def own_kit? = action == "kit" && !data["tasks"].nil? && data["tasks"].any? && data["tasks"].none? { |task| task.opens || task.paper }
    end
  end
end
