# frozen_string_literal: true

module Yenvo
  module Web
    class Present
      # Persons, and what records and rules are made of.
      module PeoplePart
        # @param row [Hash]
        def person(row)
          away = calendar.away_until(row[:key], today)
          {
            **row.slice(:key, :name, :role, :team, :active, :hours), away_until: away&.iso8601, email: administrator? ? row[:email] : nil, absences:
              (
                if administrator?
                  calendar.absences_of(row[:key]).map { |from, to| {from: from.iso8601, to: to.iso8601} }
                else
                  []
                end
              )
          }
        end

        # @return [Hash]
        def setup
          {
            zone: schema.zone, now: stamp(now), clock_moved: root.moved_clock.moved?, today: today.iso8601,
            kinds: schema.kinds.values.map { |kind| kind(kind) }, people: root.people.all.map { |row| person(row) },
            teams: root.people.teams.map { |row| row.slice(:key, :name) },
            queues: root.people.queues.map { |row| row.slice(:key, :name, :team) }, kits:
              schema.kits.all.map do |entry|
                {id: entry.id, key: entry.key, name: entry.kit.name, kind: entry.kit.kind}
              end,
            kit_format: Core::Kits::Kit::FORMAT, inks: Store::Drafted::INKS, file_types: Store::Attachments::TYPES.keys,
            vocabulary: Core::Vocabulary.to_h(schema), rule_format: Core::Rule::FORMAT,
            interactions: Store::Interactions::WAYS, task_kind: kind(schema.tasks),
            subjects: [schema.subject("task"), schema.subject("record")].map { |one| kind(one) }, relations:
              schema.kinds.values.to_h do |one|
                [
                  one.key, Core::Relation.all(one, schema)
                    .map { |relation| {name: relation.name, label: relation.label, kind: relation.kind.key} }
                ]
              end
          }
        end

        # @param rows [Array<Hash>]
        def notices(rows)
          titles = root.records.titles(rows.filter_map { |row| row[:record_id] })
          names = root.rules.names(rows.map { |row| row[:rule_id] })
          rows.map do |row|
            {
              id: row[:id], text: row[:text], at: stamp(row[:at]), read: !row[:read_at].nil?,
              record: titles[row[:record_id]]&.slice(:id, :title, :kind), run_id: row[:run_id], task_id: row[:task_id],
              rule: row[:rule_id] && {id: row[:rule_id], name: names[row[:rule_id]] || "a rule that is gone"}
            }
          end
        end

        # @param kind [Core::Schema::Kind] of a list
        # @return [Hash] what a visitor who fills in its form sees
        def form(kind) = {name: kind.plural, fields: form_fields(kind).map { |one| field(one) }}

        # @return [Array<Core::Schema::Field>] what visitors can fill in
        def form_fields(kind) = kind.own_fields.reject { |one| one.worked_out? || %w[person link].include?(one.type) }

        private

        def program_doors = @program_doors ||= root.db[:kinds].exclude(program_door: nil).select_map(:key)

        def administrator? = @asker && @asker[:role] == "administrator"

        def kind(kind)
          {
            key: kind.key, label: kind.label, plural: kind.plural, stage_label: kind.stage_label, family: kind.family,
            about: kind.about&.links_to, open_door: kind.open_door,
            program_door: kind.list && program_doors.include?(kind.key), stages: kind.stages.map(&:to_h),
            fields: kind.fields.values.map { |field| field(field) }
          }
        end

        def field(field)
          {
            key: field.key, label: field.label, type: field.type, unit: field.unit, links_to: field.links_to,
            built_in: field.built_in, choices: field.choices.map(&:to_h), formula: field.formula
          }
        end
      end
    end
  end
end
