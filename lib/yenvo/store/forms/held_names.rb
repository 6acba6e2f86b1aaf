# frozen_string_literal: true

module Yenvo
  module Store
    # Names that one transaction holds at a time: whoever looks for something, to make it where it is not there, holds
    # what it is called first, so that of two at once the second finds what the first has made. In a cluster the second
    # is taken back by certification, and tried again.
    class HeldNames < Base
      keeps :held_names

      DAYS = 1

      # Holds a name to the end of the caller's transaction.
      # @param name [String] of any length
      def hold(name, now:)
        key = OpenSSL::Digest::SHA256.hexdigest(name)
        table.on_duplicate_key_update(at: now).insert(name: key, at: now)
      end

      # @return [Integer] how many were forgotten
      def purge(now:) = table.where { at < now - (DAYS * 86_400) }.limit(1_000).delete
    end
  end
end
