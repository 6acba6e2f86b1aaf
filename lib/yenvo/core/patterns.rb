# frozen_string_literal: true

module Yenvo
  module Core
    # Ready rules, in groups by what one needs them for. One file each, in the folder patterns; what its writer has to
    # choose is left out, so that a draft made from it shows the blanks as what still has to be mended.
    module Patterns
      FOLDER = File.join(__dir__, "patterns")
      GROUPS = ["new work", "changes", "hand-over", "late work", "time", "quality", "telling"].freeze

      # key: name of the file; group: one of GROUPS; need: what it is good for, in a sentence; rule: Rule.
      Pattern = Value.define(:key, :group, :need, :rule)

      module_function

      # @return [Array<Pattern>] in the order of the groups
      def all
        @all ||=
          Dir[File.join(FOLDER, "*.yml")].sort.map { |path| read(path) }
            .sort_by { |one| [GROUPS.index(one.group), one.key] }.freeze
      end

      # @return [Pattern, nil]
      def find(key) = all.find { |one| one.key == key }

      def read(path)
        head, body = File.read(path).split("\n---\n", 2)
        plain = YamlLines.new(head).plain
        Pattern.new(
          key: File.basename(path, ".yml"), group: plain["group"], need: plain["need"], rule: RuleFile.parse(body)
        )
      end
    end
  end
end
