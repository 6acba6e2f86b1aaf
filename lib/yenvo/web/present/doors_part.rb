# frozen_string_literal: true

module Yenvo
  module Web
    class Present
      # Doors of programs and what came in by them, as the set-up shows them.
      module DoorsPart
        def doors
          root.program_doors.all.map { |row| door_row(row) }
        end

        # @param row [Hash]
        def door_sheet(row)
          _, problems = root.program_doors.read(row)
          door_row(row).merge(
            map: JSON.parse(row[:map]), sample: row[:sample] && JSON.parse(row[:sample]),
            seen: stamp(row[:written_at]), by: row[:written_by], problems: problems.map(&:to_h)
          )
        end

        # @param map [Core::DoorMap, nil]
        # @param found [Integer, nil] the record that would be changed
        def door_try(map, problems, values, wrong, found)
          {
            problems: problems.map(&:to_h), values: map ? shown_values(map, values) : {}, wrong:,
            record: found && sight.titles([found])[found]&.slice(:id, :title, :kind)
          }
        end

        # @param rows [Array<Hash>]
        def arrivals(rows) = {rows: rows.map { |row| arrival(row) }, more: rows.size == Store::Arrivals::PAGE}

        # @param row [Hash]
        def arrival(row)
          wrong = JSON.parse(row[:fields] || "{}")
          told = pick(row, :id, :door, :source, :event_id, :type, :state, :reason, :record_id, :at)
          told.merge(wrong:, body: JSON.parse(row[:body]))
        end

        private

        def waiting = @waiting ||= root.arrivals.waiting

        def door_row(row)
          kept = plain(row.slice(:key, :name, :kind, :per_minute, :retired_at))
          kept.merge(address: "/in/#{row[:address]}", open: row[:open] == true, waiting: waiting.fetch(row[:key], 0))
        end

        def shown_values(map, values)
          titles = sight.titles(values.values.grep(Integer)).transform_values { |one| one[:title] }
          values.to_h { |key, value| [key, Core::Show.value(map.kind.field(key), value, schema, titles)] }
        end
      end
    end
  end
end
