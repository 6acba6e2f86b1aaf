# frozen_string_literal: true

module Yenvo
  module Web
    # Kits: the list, drafts, versions, and what one would do to a record.
    class Kits < Base
      get("/?") { answer 200, {kits: present.kits(root.kits.all)} }

      post "/?" do
        may.write_rules!
        answer 201, present.kit(root.kits.make(read_kit, cause:))
      end

      post "/check" do
        problems, notes = Core::Kits::Checks.look(read_kit, root.schema, key: body_of_call["key"])
        answer 200, {problems: problems.map(&:to_h), notes:}
      end

      post "/try" do
        may.write_rules!
        kit = read_kit
        problems = Core::Kits::Checks.look(kit, root.schema, key: body_of_call["key"])[0]
        raise Core::InvalidRule.new(problems) if problems.any?

        answer 200, present.kit_try(kit_try(kit), now)
      end

      # Over the records to which it could be used now: which of its dates would be past.
      post "/ahead" do
        may.write_rules!
        kit = read_kit
        compiled, = Core::Kits::CompiledKit.bind(kit, root.schema)
        answer 200, compiled ? Engine::KitTrying.new(root, compiled, now:).past : {records: 0, tasks: []}
      end

      get("/:id") { answer 200, present.kit(root.kits.find!(id)) }

      put "/:id/draft" do
        may.write_rules!
        answer 200, present.kit(root.kits.keep_draft(id, read_kit, stamp: body_of_call["stamp"], cause:))
      end

      delete "/:id/draft" do
        may.write_rules!
        root.kits.drop_draft(id)
        answer 200, {dropped: true}
      end

      post "/:id/publish" do
        may.write_rules!
        root.kits.publish(id, read_kit, stamp: body_of_call["stamp"], cause:)
        answer 200, Present.new(root, now:, person:).kit(root.kits.find!(id))
      end

      post "/:id/retire" do
        may.write_rules!
        root.kits.retire(id, body_of_call["retired"], cause:)
        answer 200, Present.new(root, now:, person:).kit(root.kits.find!(id))
      end

      put "/:id/mark" do
        may.write_rules!
        root.kits.set_mark(id, body_of_call["mark"], body_of_call["ink"])
        answer 200, present.kit(root.kits.find!(id))
      end

      # A draft rule that uses the kit, with the trigger still blank, so that it cannot run before someone has said
      # when.
      post "/:id/rule" do
        may.write_rules!
        row = root.kits.find!(id)
        unless row[:version_id]
          raise Store::Refused.at("kit" => "Publish the kit first; a rule can only use what is published.")
        end

        answer 201, present.rule(root.rules.make(rule_for(row), cause:))
      end

      get("/:id/copies") { answer 200, {copies: present.copies(sight.about(root.copies.running_of(id)))} }

      get("/:id/versions/:number") { answer 200, {kit: root.kits.version!(id, part("number")).to_h} }

      private

      def read_kit = Core::Kits::KitReader.read!(body_of_call["kit"])

      def kit_try(kit)
        compiled, = Core::Kits::CompiledKit.bind(kit, root.schema)
        Engine::KitTrying.new(root, compiled, now:).on(body_of_call["record_id"])
      end

      def rule_for(row)
        blank =
          (
            if root.schema.kind(row[:kind])&.stages&.any?
              {"when" => "stage_entered", "stages" => []}
            else
              {"when" => "code", "code" => ""}
            end
          )
        Core::RuleReader.read!(
          "format" => Core::Rule::FORMAT, "name" => "Use #{row[:name]}", "record" => row[:kind], "trigger" => blank,
          "how_often" => "once_per_visit", "branches" => [{"do" => [{"action" => "kit", "kit" => row[:key]}]}]
        )
      end
    end
  end
end
