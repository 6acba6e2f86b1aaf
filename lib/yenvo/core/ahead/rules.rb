# frozen_string_literal: true

module Yenvo
  module Core
    class Ahead
      # The rules in force. matcher: Matcher of those that run after the save; before: Matcher of those that run before
      # it, or nil; timed: Array of CompiledRule with a timer for each record of the kind, or each task about one;
      # calendars:
      # Array of CompiledRule that fire for each record of the kind by the calendar.
      Rules = Value.define(:matcher, :before, :timed, :calendars)
    end
  end
end
