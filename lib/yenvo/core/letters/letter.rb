# frozen_string_literal: true

module Yenvo
  module Core
    # A mail that came in, as it is read. message_id: without brackets, or nil; sender: address in small letters; name:
    # as the sender's program says it, or nil; to: Array of addresses it went to, in small letters; subject; text: what
    # was written; folded: what it quotes, or nil; references: Array of message ids that it answers, the nearest first;
    # sort: "letter", or "automatic", "bounce" or "loop"; returns: Array of LetterReturn, of a bounce; files: Array of
    # name and bytes of each.
    Letter =
      Value.define(:message_id, :sender, :name, :to, :subject, :text, :folded, :references, :sort, :returns, :files) do
        # @return [String] the sender as people read it
        def shown_sender = name ? "#{name} (#{sender})" : sender

        # @return [String] what it is about, without what programs put before it
        def about
          plain = subject.sub(/\A(?:(?:re|aw|antw|sv|fwd?|wg)\s*:\s*)+/i, "").strip
          plain.empty? ? "Mail from #{name || sender}" : plain
        end
      end

    # Of one address to which a mail could not be brought (RFC 3464). address; status: such as "5.1.1" (RFC 3463);
    # words: what its server said; message_id: of the mail that came back, or nil.
    LetterReturn =
      Value.define(:address, :status, :words, :message_id) do
        # @return [Boolean] whether another try would come to the same
        def for_good? = status.start_with?("5")
      end
  end
end
