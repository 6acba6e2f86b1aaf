# frozen_string_literal: true

module Yenvo
  module Store
    # Prints papers that runs have filled in: setting one takes a tenth of a second or more, for which no run shall hold
    # its transaction. A worker does so at leisure, or whoever wants the file before that.
    class Printing < Base
      keeps :fillings

      MOST_TRIES = 5

      # @return [Array(Hash, String)] the row and the path of a file, which is printed now if it is not yet
      # @raise [NotFound]
      def open(id, now:)
        one(id, now:)
        root.attachments.open(id)
      end

      # Prints some of those that wait.
      # @param limit [Integer]
      # @return [Integer] how many
      def some(limit, now:)
        waiting.limit(limit).select_map(:attachment_id).each { |id| at_leisure(id, now) }.size
      end

      # Prints a file that is not yet. Of two who do so at once the second's is thrown away.
      # @param id [Integer]
      # @return [Boolean] whether there was anything to print
      def one(id, now:)
        body = table.where(attachment_id: id).get(:body) or return false
        # What was filled in anew meanwhile is printed as it is now.
        root.attachments.printed(id, bytes(load(body), now), body) || one(id, now:)
        true
      end

      private

      def waiting = table.where { tries < MOST_TRIES }.order(:attachment_id)

      # One that cannot be printed keeps nobody from the others.
      def at_leisure(id, now)
        one(id, now:)
      rescue => error
        table.where(attachment_id: id).update(tries: Sequel[:tries] + 1)
        Breakage::LOG.error("A paper could not be printed", {file: id}, error)
      end

      def bytes(filling, now)
        version = root.papers.version!(*filling.values_at("paper", "number"))
        root.papers.print(version, filling["filled"], title: filling["title"], at: now)
      end
    end
  end
end
