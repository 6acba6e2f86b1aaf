# frozen_string_literal: true

module Yenvo
  module Store
    # Kits: their drafts and versions. What is published is part of the set-up, so that rules can be tied to it.
    class Kits < Base
      include Drafted

      keeps :kits

      def written = db[:kit_versions]
      def owner_column = :kit_id
      def noun = "kit"
      def read_body(plain) = Core::Kits::KitReader.read!(plain)

      # @param kit [Core::Kits::Kit]
      # @return [Hash] the row of the new draft
      def make(kit, cause:) = root.transaction { find!(insert_draft(kit, cause)) }

      # Makes a version that never changes. Copies in use keep theirs.
      # @param stamp [Integer, nil] of the draft that the publisher saw
      # @return [Hash] the version
      # @raise [Core::InvalidRule] when the checks find something
      # @raise [Conflict] when somebody else wrote in the meantime
      def publish(id, kit, cause:, stamp: nil)
        problems = Core::Kits::Checks.look(kit, root.schema, key: find!(id)[:key])[0]
        raise Core::InvalidRule.new(problems) if problems.any?

        root.transaction do
          row = lock(id, stamp)
          version, _ = insert_version(id, kit, cause)
          known = {version_id: version, retired: false, name: kit.name, kind: kit.kind}
          table.where(id:).update(**no_draft(row), **known)
          root.setup_store.changed(who: cause.who, now: cause.at)
          written.where(id: version).first.tap { |made| audit("published version #{made[:number]} of", row, cause) }
        end
      end

      # Takes a kit out of use: no rule and nobody can begin it any more. Copies in use go on.
      # @param retired [Boolean]
      # @raise [Refused] while published rules or kits use it
      def retire(id, retired, cause:)
        row = find!(id)
        users = retired ? used_by(row[:key]) : []
        if users.any?
          refuse(
            "kit",
            "“#{row[:name]}” is used by #{users.map { |one| "“#{one[:name]}”" }.join(", ")}. Take it out " \
            "there first."
          )
        end

        root.transaction do
          table.where(id:).update(retired:)
          audit(retired ? "retired" : "brought back", row, cause)
          root.setup_store.changed(who: cause.who, now: cause.at)
        end
      end

      # @return [Array<Hash>] what uses a kit, draft or published: what ("rule" or "kit"), id, name, state
      def used_by(key)
        rules = root.rules.all
        written = root.rules.drafts_of(rules)
        rules =
          rules.select do |row|
            written[row[:id]].rows.flatten.any? { |action| action.name == "kit" && action.settings["kit"] == key }
          end
        kits = all
        opening = drafts_of(kits)
        kits = kits.select { |row| opening[row[:id]].tasks.any? { |task| task.opens&.kit == key } }
        [
          *rules.map { |row| {what: "rule", **row.slice(:id, :name, :state)} },
          *kits.map { |row| {what: "kit", **row.slice(:id, :name), state: row[:version_id] ? "on" : "draft"} }
        ]
      end

      # @return [Array<Hash>] key, id, version_id and number of the published ones
      def published_rows
        table.where(retired: false).exclude(version_id: nil).join(:kit_versions, id: :version_id)
          .select(Sequel[:kits][:key], Sequel[:kits][:id], :version_id, :number).order(Sequel[:kits][:position]).all
      end

      # @param rows [Array<Hash{String => Object}>] as of +published_rows+, of now or of the past
      # @return [Array<Core::Kits::Book::Entry>]
      def entries(rows)
        bodies =
          rows.empty? ? {} : written.where(id: rows.map { |row| row["version_id"] }).select_hash(:id, :body)
        rows.filter_map do |row|
          (text = bodies[row["version_id"]]) &&
            Core::Kits::Book::Entry.new(**row.transform_keys(&:to_sym), kit: read_body(load(text)))
        end
      end

      # @return [Core::Kits::CompiledKit, nil] any version, of now or of the past; nil when it no longer fits the schema
      def compiled(version_id)
        schema = root.schema
        @compiled = {} unless @compiled_for.equal?(schema)
        @compiled_for = schema
        @compiled.fetch(version_id) do
          row =
            written.where(Sequel[:kit_versions][:id] => version_id).join(:kits, id: :kit_id)
              .select(:kit_id, :number, :body, Sequel[:kits][:key]).first
          @compiled[version_id] = row &&
            Core::Kits::CompiledKit.bind(
              read_body(load(row[:body])), schema, id: row[:kit_id], key: row[:key], version_id:,
              number: row[:number]
            )[0]
        end
      end

      private

      def audit(done, row, cause) =
        root.audit.tell("kits", "#{done} the kit “#{row[:name]}”", cause, "kit #{row[:id]}")
    end
  end
end
