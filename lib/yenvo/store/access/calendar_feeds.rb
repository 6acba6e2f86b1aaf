# frozen_string_literal: true

require "securerandom"

module Yenvo
  module Store
    # Private addresses under which people's tasks are read as a calendar. Whoever knows one reads the tasks of that
    # person, so that another is made by a press, and the one before opens nothing any more.
    class CalendarFeeds < Base
      keeps :calendar_feeds

      LENGTH = 43

      # @param person [String]
      # @return [Hash, nil] token and events
      def of(person) = table.where(person:).first

      # Makes another address.
      # @param events [Boolean] whether tasks with a time are events, too
      # @return [Hash] its row
      def renew(person, events:, cause:)
        root.transaction do
          made = {token: SecureRandom.alphanumeric(LENGTH), events:, made_at: cause.at}
          table.on_duplicate_key_update(*made.keys).insert(person:, **made)
          tell("made a private address of their calendar", cause)
        end
        of(person)
      end

      def finish(person, cause:)
        root.transaction do
          gone = table.where(person:).delete
          tell("ended the private address of their calendar", cause) if gone.positive?
        end
      end

      # @param token [String]
      # @return [Array(Hash, Boolean)] row of the person who works here, and whether tasks are events, too
      # @raise [NotFound]
      def read!(token)
        row = table.where(token: token.to_s).first
        person = row && root.people.here(row[:person])
        raise NotFound, "There is no calendar at this address; a new one may have been made." unless person

        [root.people.with_teams(person), row[:events] == true]
      end

      private

      def tell(words, cause) = root.audit.tell("access", words, cause)
    end
  end
end
