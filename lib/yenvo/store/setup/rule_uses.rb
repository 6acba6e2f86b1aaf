# frozen_string_literal: true

module Yenvo
  module Store
    # Which rules lean on what in the set-up, so that nobody changes it unawares.
    class RuleUses < Base
      # @param what [String] as in Core::Uses, such as "field deal value"; whatever begins with it counts too
      # @return [Array<Hash>] what ("rule", "kit", "field", "text", "paper", "form", "door" or "address"), id, name and
      #   state
      def of(what)
        schema = root.schema
        rules = leaning(schema, what).map { |row, _| rule_row(row) }
        kept = %w[text paper].flat_map { |noun| kept(noun, what) }
        rules.uniq + kits(what, schema) + fields(what, schema) + kept + forms(what) + doors(what) + addresses(what)
      end

      # @param noun [String] such as "text"
      # @return [Hash{String => Array<Hash>}] by key of each such: the rules and kits that lean on it, as in +of+
      def by_key(noun)
        uses = bodies.map { |row, rule| [Core::Uses.of(rule, schema), rule_row(row)] } +
          kit_bodies.map { |row, kit| [Core::Uses.of_kit(kit, schema), kit_row(row)] }
        pairs = uses.flat_map { |all, row| all.filter_map { |use| [use.split(" ", 2), row] } }
        pairs.select { |(what, _), _| what == noun }.uniq.group_by { |(_, key), _| key }
          .transform_values { |some| some.map(&:last) }
      end

      # @param kinds [Array<String>, nil] kinds of records; nil for all
      # @return [Array<Hash>] as +of+, of rules and kits about other kinds of records than these
      def about_others(what, kinds)
        return [] unless kinds

        schema = root.schema
        rules =
          leaning(schema, what).reject { |_, rule| kinds.include?(rule.kind) || schema.kind(rule.kind).nil? }
            .map { |row, _| rule_row(row) }
        rules.uniq + kits(what, schema) { |kit| !kinds.include?(kit.kind) }
      end

      # @param kind [String]
      # @return [Hash{String => Array<Hash>}] by stage: id and name of the rules on that watch it
      def watching_stages(kind)
        found = Hash.new { |hash, stage| hash[stage] = [] }
        bodies.each do |row, rule|
          next unless row[:state] == "on" && rule.kind == kind

          watched(rule).each { |stage| found[stage] << {id: row[:id], name: row[:name]} }
        end
        found.transform_values(&:uniq)
      end

      private

      def leans?(uses, what) = uses.any? { |use| use == what || use.start_with?("#{what} ") }

      # @return [Array<Array(Hash, Core::Rule)>]
      def leaning(schema, what) = bodies.select { |_, rule| leans?(Core::Uses.of(rule, schema), what) }

      # @yieldparam kit [Core::Kits::Kit]
      # @yieldreturn [Boolean] whether it counts
      def kits(what, schema)
        kit_bodies.select { |_, kit| (!block_given? || yield(kit)) && leans?(Core::Uses.of_kit(kit, schema), what) }
          .map { |row, _| kit_row(row) }.uniq
      end

      # @return [Array<Array(Hash, Core::Kits::Kit)>] each kit with its draft, and with its version where both are there
      def kit_bodies
        root.kits.all.flat_map do |row|
          newest = root.kits.body(row[:version_id]) if row[:version_id] && row[:draft]
          [root.kits.draft_of(row), *newest].map { |kit| [row, kit] }
        end
      end

      def rule_row(row) = {what: "rule", **row.slice(:id, :name, :state)}
      def kit_row(row) = {what: "kit", id: row[:id], name: row[:name], state: row[:version_id] ? "on" : "draft"}

      def watched(rule) =
        rule.triggers.flat_map do |trigger|
          Array(trigger["stages"]) + ((trigger["field"] == "stage") ? [*trigger["from"], *trigger["to"]] : [])
        end

      # @return [Array<Array(Hash, Core::Rule)>] each rule with its version in force, and with its draft
      def bodies
        rows = root.rules.all
        versions = db[:rule_versions].where(id: rows.filter_map { |row| row[:version_id] }).select_hash(:id, :body)
        rows.flat_map do |row|
          [versions[row[:version_id]], row[:draft]].compact.map { |text| [row, Core::RuleReader.read!(load(text))] }
        end
      end

      # Texts or papers whose newest version leans on it.
      def kept(noun, what)
        newest = db[:"#{noun}s"].where(retired_at: nil).join(:"#{noun}_versions", %i[key number])
        newest.select_map(%i[name uses]).select { |_, uses| leans?(load(uses), what) }
          .map { |name, _| {what: noun, id: 0, name: "#{name} (#{noun})", state: "on"} }
      end

      # Forms whose draft or published version leans on it.
      def forms(what)
        rows = db[:forms].where(retired_at: nil).order(:name).all
        rows.select { |row| form_bodies(row).any? { |form| leans?(form.uses, what) } }
          .map { |row| {what: "form", id: 0, name: "#{row[:name]} (form)", state: "on"} }
      end

      # @return [Array<Core::Form>] its draft, and its version where there is one
      def form_bodies(row)
        published = db[:form_versions].where(row.slice(:key, :number)).select_map(:body)
        [row[:draft], *published].filter_map { |text| Core::FormReader.read(load(text), schema)[0] }
      end

      # Doors whose table leans on it.
      def doors(what)
        rows = db[:doors].where(retired_at: nil).order(:name).all
        rows.select { |row| door_map(row)&.then { |map| leans?(map.uses, what) } }
          .map { |row| {what: "door", id: 0, name: "#{row[:name]} (door of a program)", state: "on"} }
      end

      # Addresses for mail, by what they make.
      def addresses(what)
        rows = db[:mail_doors].where(retired_at: nil).order(:name).all
        rows.select { |row| mail_door(row)&.then { |door| leans?(door.uses, what) } }
          .map { |row| {what: "address", id: 0, name: "#{row[:name]} (address for mail)", state: "on"} }
      end

      def mail_door(row) = read_by(Core::MailDoorReader, row, :plain)
      def door_map(row) = read_by(Core::DoorMapReader, row, :map)

      def read_by(reader, row, column)
        kind = schema.kind(row[:kind])
        kind && reader.read(load(row[column]), kind, schema)[0]
      end

      def fields(what, schema)
        schema.kinds.values.flat_map do |type|
          type.worked_out.select { |field| Core::Uses.of_formula(field.formula, type, schema).include?(what) }
            .map do |field|
              {what: "field", id: 0, name: "#{field.label} (worked-out field of #{type.plural.downcase})", state: "on"}
            end
        end
      end
    end
  end
end
