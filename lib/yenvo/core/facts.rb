# frozen_string_literal: true

module Yenvo
  module Core
    # All that conditions and texts may look at when a rule meets an event: the record right after it, the record
    # before it, and the linked records as they were then.
    class Facts
      attr_reader :event, :linked

      # @param event [Event]
      # @param linked [Hash{Integer => Hash}] images of linked records by id, each with "id"
      def initialize(event, linked = {})
        @event = event
        @linked = linked
      end

      def after = event.after
      def before = event.before

      # @return [Hash{Integer => String}] titles of the linked records
      def titles = @titles ||= linked.transform_values { |image| image["title"] }
    end
  end
end
