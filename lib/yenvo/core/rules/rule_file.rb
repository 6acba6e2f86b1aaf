# frozen_string_literal: true

require "json"
require "psych"

module Yenvo
  module Core
    # Rules as YAML 1.1 files (JSON, being a part of YAML, too). A file that is wrong gets every problem with its line.
    module RuleFile
      module_function

      # @param rule [Rule]
      # @return [String] YAML that +parse+ reads back to an equal rule
      # Values that stand in two places are written out twice; as one object, Psych would write an alias.
      def dump(rule) = Psych.dump(JSON.parse(JSON.generate(rule.to_h)), line_width: -1).delete_prefix("---\n")

      # @param source [String]
      # @return [Rule]
      # @raise [InvalidRule] with every problem, each with line and path
      def parse(source)
        lines = YamlLines.new(source)
        reader = RuleReader.new
        rule = reader.read(lines.plain)
        raise InvalidRule.new(lines.place(reader.problems)) if reader.problems.any?

        rule
      end

      # Ties the problems that were found later, on binding, to lines of the file.
      # @return [Array<Problem>]
      def place(source, problems) = YamlLines.new(source).place(problems)
    end
  end
end
