# frozen_string_literal: true

module Yenvo
  module Core
    # One thing wrong with what somebody wrote.
    # path: Array of keys and indexes into the rule, for example ["branches", 0, "do", 1, "title"];
    # text: what was expected, worded to follow the name of the place; line: 1-based line of the file, or nil.
    Problem = Value.define(:path, :text, :line) do
      # @return [Problem] one without a line
      def self.at(path, text) = new(path:, text:, line: nil)

      # @return [String] the path as people read it, such as branches[1].do[2].title (counted from 1)
      def where
        path.each_with_object(+"") do |step, out|
          out << (step.is_a?(Integer) ? "[#{step + 1}]" : "#{"." unless out.empty?}#{step}")
        end
      end

      def to_s = [line && "line #{line}", (where unless path.empty?), text].compact.join(": ")

      def to_h = {path:, where:, text:, line:}
    end
  end
end
