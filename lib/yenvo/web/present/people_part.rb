# frozen_string_literal: true

module Yenvo
  module Web
    class Present
      # Persons, and what records and rules are made of.
      module PeoplePart
        # @param row [Hash]
        def person(row)
          hers = {teams: schema.person(row[:key])&.teams || [], week: row[:week] && week(load(row[:week]))}
          row.slice(:key, :name, :role, :team, :active, :hours).merge(
            hers, program: row[:program] == true, email: administrator? ? row[:email] : nil,
            phone: row[:phone],
            invited: administrator? && invited.include?(row[:key]),
            second_step: administrator? && second_step.include?(row[:key]),
            away_until: calendar.away_until(row[:key], today), absences: administrator? ? absences(row[:key]) : []
          )
        end

        # @return [Hash]
        def setup
          kinds = schema.kinds.values
          {
            stamp: root.setup[3] || 0, zone: schema.zone,
            shown_zone: (@asker && @asker[:zone]) || schema.zone,
            second_step: administrator? ? root.people.second_step_roles : [],
            now: stamp(now), clock_moved: root.moved_clock.moved?, today:,
            kinds: kinds.map { |one| kind(one) }, task_kind: kind(schema.tasks),
            subjects: [schema.subject("task"), schema.subject("record")].map { |one| kind(one) },
            relations: kinds.to_h { |one| [one.key, relations(one)] },
            people: root.people.all.map { |row|
              person(row)
            }, teams: teams, queues: queues_to_choose, kits: kits_to_use,
            addresses: schema.addresses.each_value.map { |one| one.slice(:key, :name, :way) },
            **{texts: schema.texts, papers: schema.papers}.transform_values { |all|
              all.each_value.map { |one| one.slice(:key, :name, :kind, :number, :form) }
            },
            kit_format: Core::Kits::Kit::FORMAT, rule_format: Core::Rule::FORMAT,
            vocabulary: Core::Vocabulary.to_h(schema), interactions: Store::Interactions::WAYS,
            inks: Store::Drafted::INKS, file_types: Store::Attachments::TYPES.keys
          }
        end

        # What an answer calls the ways from a record to others.
        def relations(kind) =
          Core::Relation.all(kind, schema).map { |one| {**one.slice(:name, :label), kind: one.kind.key} }

        # @param rows [Array<Hash>]
        def notices(rows)
          titles = titles_of(rows)
          names = root.rules.names(column(rows, :rule_id))
          rows.map do |row|
            {
              **pick(row, :id, :text, :at, :run_id, :task_id),
              read: !row[:read_at].nil?, record: titles[row[:record_id]],
              rule: named(row[:rule_id], names, "rule")
            }
          end
        end

        # @param key [String] of a person
        # @return [Array<Hash>] days away
        def absences(key) = calendar.absences_of(key).map { |from, to| {from: from.iso8601, to: to.iso8601} }

        # @param hours [Hash{String => Array(Integer, Integer)}] as they are kept
        # @return [Array<Hash>] day, from, to
        def week(hours) =
          hours.map do |day, span|
            from, to = span.map { |minutes| Core::ClockTime.show(minutes) }
            {day: day.to_i, from:, to:}
          end

        # @param rows [Array<Hash>]
        def tokens(rows)
          rows.map do |row|
            {
              **pick(row, :id, :name, :scopes, :per_minute, :made_at, :expires_at, :used_at, :ended_at),
              person: row[:person], whose: schema.name_of(row[:person]),
              alive: row[:ended_at].nil? && row[:expires_at] > now
            }
          end
        end

        private

        def teams = root.people.teams.map { |row| row.slice(:key, :name) }
        def queues_to_choose = root.people.queues.map { |row| row.slice(:key, :name, :team) }

        def kits_to_use =
          schema.kits.all.map { |entry| {**entry.slice(:id, :key), **entry.kit.slice(:name, :kind)} }

        def second_step = @second_step ||= root.people.with_second_step

        # Those who have a sign-in and no password yet.
        def invited = @invited ||= root.people.invited

        def administrator? = @asker && @asker[:role] == "administrator"

        def kind(kind)
          {
            key: kind.key, label: kind.label, plural: kind.plural, stage_label: kind.stage_label, family: kind.family,
            about: kind.about&.links_to, **kind.slice(*Core::Access::VERBS),
            stages: kind.stages.map(&:to_h),
            fields: kind.fields.values.map { |field| field(field) }
          }
        end

        def field(field)
          {
            key: field.key, label: field.label, type: field.type, unit: field.unit, links_to: field.links_to,
            built_in: field.built_in, choices: field.choices.map(&:to_h), formula: field.formula,
            required: field.required == true, unique: field.unique == true, kept: field.kept == true,
            **field.slice(:default, :help, :group)
          }
        end
      end
    end
  end
end
