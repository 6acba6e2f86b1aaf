# frozen_string_literal: true

# Pieces of rule files, and publishing a rule of one branch, for specs in which rules run.
module RuleWords
  # @param trigger [Hash, String] a name stands for a trigger without settings
  # @param actions [Array<Hash>] of its one branch
  # @param more [Hash] all else that the file says; what is said twice is said last here
  # @return [Hash] the row
  def rule(trigger, *actions, **more)
    trigger = {"when" => trigger} if trigger.is_a?(String)
    publish({"trigger" => trigger, "branches" => [{"do" => actions}], **more.transform_keys(&:to_s)})
  end

  # @return [Hash] an action that makes a task for somebody
  def task(title = "Do it", **more) =
    {
      "action" => "task", "title" => title, "assign" => {"to" => "person", "person" => "wen"},
      **more.transform_keys(&:to_s)
    }

  # @return [Array<String>] of all tasks, as they were made
  def titles = db[:tasks].order(:id).select_map(:title)
end
