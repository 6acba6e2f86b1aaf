# frozen_string_literal: true

module Yenvo
  module Engine
    # What came of a try to send. state: "sent", "later" or "never"; words: what the other side said; rest: whether it
    # was the fault of the destination, not of the message; after: seconds that the other side asks to wait, or nil;
    # body: the JSON that it answered, read, or nil.
    Answer = Core::Value.define(:state, :words, rest: true, after: nil, body: nil)
  end
end
