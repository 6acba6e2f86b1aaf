# frozen_string_literal: true

module Yenvo
  module Web
    class Present
      # What is given out as tables: heads and cells.
      module TablesPart
        TASK_HEADS = [
          "Number", "Title", "About", "Kind", "Assigned to", "Queue", "State", "Priority", "Due", "Made", "Over",
          "Answer", "Note", "Rule", "Kit"
        ].freeze
        RUN_HEADS = ["Number", "When", "Rule", "Version", "About", "State", "Tasks", "Why", "Undone"].freeze

        # @param fields [Array<Core::Schema::Field>]
        def record_heads(fields) = ["Number", *fields.map(&:label)]

        # @param images [Array<Hash>]
        # @param fields [Array<Core::Schema::Field>]
        # @return [Array<Array>]
        def record_cells(images, fields)
          images.zip(field_cells(images, fields)).map { |image, cells| [image["id"], *cells] }
        end

        # @param fields [Array<Core::Schema::Field>]
        # @return [Array<Array<String>>]
        def field_cells(images, fields)
          titles = titles_of_links(images, fields)
          images.map { |image| fields.map { |field| Core::Cell.text(field, image[field.key], schema, titles) } }
        end

        def task_heads = TASK_HEADS

        # @param rows [Array<Hash>]
        # @return [Array<Array>]
        def task_cells(rows) = rows.zip(tasks(rows)).map { |row, task| task_cell(row, task) }

        # @param rows [Array<Hash>]
        # @return [Array<Array>]
        def run_cells(rows) = rows.zip(runs(rows)).map { |row, run| run_cell(row, run) }

        private

        def titles_of_links(images, fields)
          links = fields.select { |field| field.type == "link" }.map(&:key)
          ids = images.flat_map { |image| image.values_at(*links) }
          sight.titles(ids.compact).transform_values { |row| row[:title] }
        end

        def task_cell(row, task)
          record, due = task[:record], row[:due_on] ? row[:due_on].iso8601 : at(row[:due_at])
          [
            row[:id], row[:title], record && record[:title], record && schema.kind(record[:kind])&.label,
            row[:assignee] && schema.name_of(row[:assignee]), row[:queue] && schema.queue_name(row[:queue]),
            row[:state], task[:priority], due, at(row[:made_at]), at(row[:done_at]), row[:answer], row[:note],
            task.dig(:rule, :name), task.dig(:kit, :name)
          ]
        end

        def run_cell(row, run)
          [
            row[:id], at(row[:at]), run.dig(:rule, :name), run[:version], run.dig(:record, :title), row[:state],
            row[:task_count], run[:why], at(row[:undone_at])
          ]
        end

        def at(time) = Core::Cell.moment(time, schema)
      end
    end
  end
end
