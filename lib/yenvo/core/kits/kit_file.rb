# frozen_string_literal: true

require "json"
require "psych"

module Yenvo
  module Core
    module Kits
      # Kits as YAML 1.1 files (JSON, being a part of YAML, too), as RuleFile is for rules.
      module KitFile
        module_function

        # @param kit [Kit]
        # @return [String] YAML that +parse+ reads back to an equal kit
        def dump(kit) = Psych.dump(JSON.parse(JSON.generate(kit.to_h)), line_width: -1).delete_prefix("---\n")

        # @param source [String]
        # @return [Kit]
        # @raise [InvalidRule] with every problem, each with line and path
        def parse(source)
          lines = YamlLines.new(source)
          reader = KitReader.new
          kit = reader.read(lines.plain)
          raise InvalidRule.new(lines.place(reader.problems)) if reader.problems.any?

          kit
        end

        # @param source [String]
        # @return [Boolean] whether a file says that it is a kit
        def kit?(source) = source.match?(/^\s*"?format"?:\s*"?yenvo-kit\//)
      end
    end
  end
end
