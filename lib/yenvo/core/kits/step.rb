# frozen_string_literal: true

module Yenvo
  module Core
    module Kits
      # What has to be done before a task comes: another task of the kit, with an answer or with whichever.
      # task: its key; answer: String or nil.
      Step = Value.define(:task, :answer) do
        def to_h = {"task" => task, "answer" => answer}.compact
      end
    end
  end
end
