# frozen_string_literal: true

module Yenvo
  module Web
    # Rules as files, in and out.
    class RuleFiles < Base
      get "/:id" do
        row = root.rules.find!(id)
        taken_out("took out the rule “#{row[:name]}” as a file", "rule #{id}")
        content_type "application/yaml"
        attachment "#{row[:key]}.yml"
        Core::RuleFile.dump(root.rules.draft_of(row))
      end

      post "/?" do
        may.write_rules!
        rule = Core::RuleFile.parse(body_of_call["source"])
        answer 201, present.rule(root.rules.make(rule, cause:))
      end
    end
  end
end
