# frozen_string_literal: true

module Yenvo
  module Core
    class Ahead
      # What is known of the record now. image: Hash with "id"; kind: key; linked, related, desk: as in Facts;
      # tasks: Array of Hash with image, due_at (Time or nil), late_noted, made_at, copy (index into copies, or nil),
      # kit_task, redated, of those that are open or belong to a kit in use; copies: Array of Hash with kit
      # (CompiledKit), anchor, follows (own field or nil), passed; timers: Array of Hash with purpose, rule
      # (CompiledRule of the version that set it), task, due, look, since, fired_for, branch, action, step, depth, run,
      # before, origin; taken: Set of [rule id, once key] that have run; ran: Hash of rule id to moments of the events
      # at which it ran; queue_teams: Hash of queue to team.
      Start =
        Value.define(:image, :kind, :linked, :related, :desk, :tasks, :copies, :timers, :taken, :ran, :queue_teams)
    end
  end
end
