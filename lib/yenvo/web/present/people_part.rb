# frozen_string_literal: true

module Yenvo
  module Web
    class Present
      # Persons, and what records and rules are made of.
      module PeoplePart
        # @param row [Hash]
        def person(row)
          away = calendar.away_until(row[:key], today)
          {key: row[:key], name: row[:name], role: row[:role], team: row[:team], active: row[:active], away_until: away&.iso8601}
        end

        # @return [Hash]
        def setup
          {zone: schema.zone, now: stamp(now), today: today.iso8601, kinds: schema.kinds.values.map { |kind| kind(kind) }, people: root.people.all.map { |row| person(row) },
           teams: root.people.teams.map { |row| row.slice(:key, :name) }, queues: root.people.queues.map { |row| row.slice(:key, :name, :team) },
           vocabulary: Core::Vocabulary.to_h, rule_format: Core::Rule::FORMAT, interactions: Store::Interactions::WAYS}
        end

        private

        def kind(kind)
          {key: kind.key, label: kind.label, plural: kind.plural, stage_label: kind.stage_label, family: kind.family,
           stages: kind.stages.map(&:to_h), fields: kind.fields.values.map { |field| field(field) }}
        end

        def field(field)
          {key: field.key, label: field.label, type: field.type, unit: field.unit, links_to: field.links_to, built_in: field.built_in, choices: field.choices.map(&:to_h)}
        end
      end
    end
  end
end
