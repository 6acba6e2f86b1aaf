# frozen_string_literal: true

module Yenvo
  module Store
    # Turns of teams and loads of persons, as ways to assign ask for them.
    class Desks < Base
      # A desk for what is only shown: it reads and holds nothing.
      # @return [Core::Desk]
      def look(now:) = Core::Desk.new(schema, source(now) { |_| nil })

      # A desk for what is going to be written, in the caller's transaction: who asks about a team keeps others waiting
      # until the transaction ends, so that two workers never give the same turn. Needs +settle+ afterwards.
      # @return [Core::Desk]
      def open(now:) =
        Core::Desk.new(schema, source(now) { |team| db[:teams].where(key: team).for_update.get(:key) })

      # Keeps the turns that were taken.
      # @param desk [Core::Desk]
      def settle(desk)
        desk.turns_taken.group_by(&:first)
          .each do |team, taken|
            last = db[:turns].where(team:).max(:last) || 0
            rows =
              taken.map(&:last).each_with_index.to_h { |person, i| [person, last + i + 1] }
                .map { |person, number| {team:, person:, last: number} }
            db[:turns].on_duplicate_key_update(:last).multi_insert(rows)
          end
      end

      # @param people [Array<String>]
      # @return [Hash{String => Float}] see Core::Load
      def loads(people, now:)
        calendar = root.calendar
        today = calendar.date_of(now)
        counts = counts(people, today, calendar)
        people.to_h do |person|
          [
            person,
            Core::Load.of(counts.fetch(person, {}), Core::Load.capacity(schema.person(person), calendar, today))
          ]
        end
      end

      private

      def source(now)
        turns = lambda do |team|
          yield team
          db[:turns].where(team:).select_hash(:person, :last)
        end
        loads =
          lambda do |team|
            yield team
            loads(schema.people_of(team).select(&:active).map(&:key), now:)
          end
        owners = ->(id) { root.in_force.states.dig(id, :owner) }
        Core::Desk::Source.new(turns:, loads:, owners:)
      end

      def counts(people, today, calendar)
        soon = calendar.add_working_days(today, Core::Load::DAYS)
        due = Sequel[:due_on]
        near = Sequel.case([[due <= today, "now"], [due <= soon, "soon"]], "later").as(:near)
        open = root.task_rows.open.where(assignee: people).group(:assignee, :priority, :near)
        rows = open.select(:assignee, :priority, near, Sequel.function(:count, Sequel.lit("*")).as(:count)).all
        rows.group_by { |row| row[:assignee] }
          .transform_values { |all| all.to_h { |row| [[priority(row), row[:near]], row[:count]] } }
      end

      def priority(row) = TaskColumns::PRIORITIES[row[:priority]]
    end
  end
end
