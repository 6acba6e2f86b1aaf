# frozen_string_literal: true

module Yenvo
  module Core
    module Effects
      # Says something about a task. on: "this" for the task of the event, or the number of the action that makes it.
      CommentOnTask = Effects.define(:comment_on_task, :on, :text)
    end
  end
end
