# frozen_string_literal: true

require "date"

module Yenvo
  module Store
    # The schema, the working calendar and the settings, as they are kept.
    class Setup < Part
      # @return [Array(Core::Schema, Core::Calendar)]
      def both = (made = calendar) && [schema(made), made]

      # @return [Core::Schema]
      def schema(calendar = self.calendar)
        fields = db[:fields].order(:kind, :position).all.group_by { |row| row[:kind] }
        kinds = db[:kinds].order(:position).map { |row| kind(row, fields.fetch(row[:key], [])) }
        people = db[:people].order(:name).map { |row| Core::Schema::Person.new(key: row[:key], name: row[:name], active: row[:active], team: row[:team], hours: row[:hours]) }
        Core::Schema.new(kinds: kinds, people: people, queues: db[:queues].order(:name).select_hash(:key, :name),
          teams: db[:teams].order(:name).select_hash(:key, :name), zone: setting("zone", "UTC"), calendar: calendar, kits: Kits.new(root).published)
      end

      # @return [Core::Calendar]
      def calendar
        stretches = setting("days_off", []).map { |row| Core::DaysOff::Stretch.new(from: Date.iso8601(row["from"]), to: Date.iso8601(row["to"]), name: row["name"]) }
        absences = db[:absences].select_map([:person, :from_on, :to_on]).group_by(&:first).transform_values { |rows| rows.map { |_, from, to| [from, to] } }
        Core::Calendar.new(zone: setting("zone", "UTC"), hours: setting("hours", {}).transform_keys(&:to_i),
          days_off: Core::DaysOff.new(region: setting("holidays", nil), stretches: stretches), absences: absences)
      end

      # @return [Object] what a setting holds
      def setting(name, usual)
        text = db[:settings].where(name: name).get(:value)
        text ? JSON.parse(text, quirks_mode: true) : usual
      end

      def set(name, value) = db[:settings].on_duplicate_key_update(:value).insert(name: name, value: JSON.generate(value))

      # @param kind [Core::Schema::Kind]
      def add_kind(kind, position:)
        db[:kinds].insert(key: kind.key, label: kind.label, plural: kind.plural, stage_label: kind.stage_label, position: position, open_door: kind.open_door,
          stages: JSON.generate(kind.stages.map { |stage| [stage.key, stage.label] }))
        kind.own_fields.each_with_index do |field, index|
          db[:fields].insert(kind: kind.key, key: field.key, label: field.label, type: field.type, unit: field.unit, links_to: field.links_to, formula: field.formula,
            choices: JSON.generate(field.choices.map { |choice| [choice.key, choice.label] }), position: index)
        end
      end

      private

      def kind(row, fields)
        stages = JSON.parse(row[:stages]).map { |key, label| Core::Schema::Choice.new(key: key, label: label) }
        Core::Schema::Kind.new(key: row[:key], label: row[:label], plural: row[:plural], stage_label: row[:stage_label], stages: stages,
          fields: fields.map { |field| field(field) }, open_door: row[:open_door])
      end

      def field(row)
        Core::Schema::Field.of(row[:key], row[:label], row[:type], choices: JSON.parse(row[:choices]), unit: row[:unit], links_to: row[:links_to], formula: row[:formula])
      end
    end
  end
end
