# frozen_string_literal: true

module Yenvo
  module Core
    # A task as a plan would make it: texts filled in, dates worked out (Due or nil), somebody chosen.
    # reason: why it goes to whom; notes: how the dates came about; about: id of the record it is about or [:made, number
    # of the action], nil for the record of the rule.
    PlannedTask = Value.define(:title, :text, :web_link, :way, :priority, :assignee, :queue, :start, :remind, :due, :place, :answers, :under, :reason, :notes, about: nil) do
      # @return [Hash] plain, for JSON
      def to_h = super.to_h { |name, value| [name.to_s, value.is_a?(Due) ? value.to_h : value] }
    end
  end
end
