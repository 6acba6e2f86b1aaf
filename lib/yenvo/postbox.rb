# frozen_string_literal: true

require "yenvo/store"

module Yenvo
  # Takes mails as a mail server hands them on, one by one.
  class Postbox
    # @param root [Store::Root]
    # @param clock [#now]
    def initialize(root, clock:)
      @root = root
      @clock = clock
    end

    # @param bytes [String] a message of RFC 5322
    # @param to [String, nil] for whom it is brought
    # @return [Hash] row of Store::Letters
    # @raise [Core::Unreadable] when nobody can tell from whom it is
    def take(bytes, to: nil)
      letter = Core::LetterReader.read(bytes)
      @root.letters.take(letter, to:, cause: Store::Journal::Cause.house(@clock.now))
    end
  end
end
