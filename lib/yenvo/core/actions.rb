# frozen_string_literal: true

module Yenvo
  module Core
    # What a branch does. One class per file; all of them by their name in rule files.
    module Actions
      # @return [Registry] a class by name
      def self.all = @all ||= Registry.new("action", {"task" => MakeTask})
    end
  end
end
