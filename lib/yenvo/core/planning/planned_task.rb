# frozen_string_literal: true

module Yenvo
  module Core
    # A task as a plan would make it: what Schema::TaskField says of it, texts filled in, dates worked out (Due or nil),
    # and somebody chosen.
    # reason: why it goes to whom; notes: how the dates came about; about: id of the record it is about or [:made,
    # number of the action], nil for the record of the rule; kit_task: key of the template in a kit, or nil; log:
    # whether finishing it is logged as an interaction; ask: whether whoever caused it is asked first; paper: Hash with
    # "name" and "text" of the file that is attached, filled in, or nil; opens: Effects::MakeRecord that makes a record
    # for it, or nil.
    PlannedTask =
      Value.define(
        :assignee, :queue, :reason, :notes, about: nil, kit_task: nil, opens: nil,
        **Schema::TaskField.usual("rule").except(:assign, :fallback, :of)
      ) do
        include Effects::Step

        self::VERB = "make_task"

        def action = "task"
        def words = title
        def task_count = 1
        def plain? = about.nil? && !ask && paper.nil?

        # @return [Hash] plain, for JSON
        def to_h = super.to_h { |name, value| [name.to_s, value.is_a?(Value) ? value.to_h : value] }
      end
  end
end
