# frozen_string_literal: true

module Yenvo
  module Web
    class Present
      # Tables that are brought in.
      module ImportsPart
        # @param rows [Array<Hash>]
        def imports(rows) = rows.map { |row| import(row) }

        # @param row [Hash]
        def import_sheet(row)
          {**import(row), plan: JSON.parse(row[:plan]), **shown_sample(row), **plan_told(row), progress: progress(row)}
        end

        def shown_sample(row) = %i[heads sample].zip(root.imports.sample(row)).to_h

        # @param found [Array<Engine::TableRules::Found>]
        def table_rules(rows, found)
          {rows:, rules: found.map { |one| table_rule(one) }}
        end

        def table_rule(one) = {rule: one.rule.named, runs: one.runs, tasks: one.tasks}

        # @param rows [Array<Hash>]
        def refusals(rows, import)
          {rows: rows.map { |row| refusal(row, import) }, next: rows.last && rows.last[:id]}
        end

        # @return [Array<String>]
        def refused_cells(row, columns, import)
          cells = JSON.parse(row[:cells]).map(&:to_s).first(columns)
          [*cells, *Array.new([columns - cells.size, 0].max, ""), row[:line], problems_of(row).values.join(" ")]
        end

        private

        def import(row)
          told = pick(row, :id, :name, :kind, :size, :state, :rules, :failed, :at, :ended_at)
          told.merge(looked: load(row[:looked]), written: load(row[:written]), forgotten: row[:file].nil?)
        end

        # What is wrong with the plan, and what the first rows come to.
        def plan_told(row)
          seen = sight.access.schema
          plan, problems = root.imports.plan(row, seen)
          first = first_row(row, plan, seen)
          {problems: problems.map(&:to_h), becomes: first[0], wrong: first[1]}
        end

        def first_row(row, plan, seen)
          return [{}, {}] unless row[:file]

          cells = root.imports.sample(row)[1].first or return [{}, {}]
          values, wrong = plan.row(cells, seen)
          [values.to_h { |key, value| [key, became(plan.map.kind.field(key), value)] }, wrong]
        end

        def became(field, value)
          value.is_a?(Core::DoorLink) ? value.value.to_s : Core::Show.value(field, value, schema, {})
        end

        # How far it has come, and how fast.
        def progress(row)
          job = row[:job_id] && Store::Imports::UNDER_WAY.include?(row[:state]) && root.jobs.find!(row[:job_id])
          return unless job

          seconds = [now - job[:at], 1].max
          rate = job[:looked_at] / seconds
          left = rate.positive? ? ((job[:total] - job[:looked_at]) / rate).ceil : nil
          {done: job[:looked_at], total: job[:total], rate: rate.round, left: left&.clamp(0, 86_400)}
        end

        def refusal(row, import)
          labels = root.schema.kind(import[:kind])
          said = problems_of(row).map { |key, text|
            {label: labels&.field(key)&.label, column: column_of(import, key), text:}
          }
          {line: row[:line], problems: said, cells: JSON.parse(row[:cells]).map(&:to_s).first(20)}
        end

        def problems_of(row) = JSON.parse(row[:problems])

        def column_of(import, key)
          line = (JSON.parse(import[:plan]).dig("map", "rows") || []).find { |one| one["field"] == key }
          line && line["path"]&.delete_prefix("c")&.to_i
        end
      end
    end
  end
end
