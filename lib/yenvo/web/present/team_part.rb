# frozen_string_literal: true

module Yenvo
  module Web
    class Present
      # Queues, the lead's view, and tasks that wait to be sent.
      module TeamPart
        # @param figures [Hash{String => Hash}]
        def queues(figures)
          mine = root.people.queues_of(@asker)
          root.people.queues.map do |row|
            found = figures.fetch(row[:key])
            {
              **row.slice(:key, :name, :team),
              mine: mine.include?(row[:key]), open: found[:open],
              late: found[:late], oldest_at: stamp(found[:oldest]),
              age: found[:oldest] && took(calendar.working_minutes(found[:oldest], now)), made: found[:made],
              done: found[:done]
            }
          end
        end

        # @param rows [Array<Hash>]
        def team_rows(by, rows)
          names = team_names(by)
          rows.map do |row|
            {
              key: row[:key].to_s, name: names[row[:key]] || row[:key].to_s, **row.slice(:open, :late, :done),
              answered_in: row[:median_minutes] && took(row[:median_minutes].round), load: row[:load]
            }
          end
        end

        # @param rows [Array<Hash>]
        def proposals(rows)
          titles = titles_of(rows)
          names = root.rules.names(rows.map { |row| row[:rule_id] })
          rows.map do |row|
            {
              id: row[:id],
              rule: {id: row[:rule_id], name: names[row[:rule_id]] || "a rule that is gone"}, at: stamp(row[:at]),
              record: titles[row[:record_id]]&.slice(:id, :title, :kind), task: row[:task] && root.proposals.form(row),
              message: proposed_message(row)
            }
          end
        end

        private

        def team_names(by)
          case by
          when "person" then schema.people.transform_values(&:name)
          when "team" then schema.teams
          when "queue" then schema.queues
          else root.rules.all.to_h { |row| [row[:id], row[:name]] }
          end
        end
      end
    end
  end
end
