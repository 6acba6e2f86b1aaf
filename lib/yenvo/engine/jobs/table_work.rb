# frozen_string_literal: true

module Yenvo
  module Engine
    # What looking at a table, bringing it in and taking it back have alike.
    module TableWork
      # @param root [Store::Root]
      def initialize(root)
        @root = root
      end

      private

      def db = @root.db
      def import(job) = @root.imports.find!(JSON.parse(job[:filter])["import"])

      # Whoever brings it in has to work here yet, and sees and changes with it what they may.
      # @return [Store::Sight]
      # @raise [Core::Error]
      def sight(import)
        works_here?(import[:by]) || raise(Core::Error, "Whoever brought this table in does not work here any more.")
        Store::Sight.new(@root, import[:by])
      end

      def works_here?(person) = @root.schema.person(person)&.active

      # @return [Core::TablePlan]
      # @raise [Core::Error] where what it is for has gone in the meantime
      def plan(import, sight)
        plan, problems = @root.imports.plan(import, sight.access.schema)
        problems.empty? ? plan : raise(Core::Error, unfit(problems[0]))
      end

      def unfit(problem) = "The table does not fit the set-up any more: #{problem.text}."

      # Keeps rows that were refused, each with what is wrong by field.
      def refuse(import, verdicts)
        rows = verdicts.map do |one|
          {import_id: import[:id], line: one.row.line, problems: JSON.generate(one.problems),
           cells: JSON.generate(one.row.cells)}
        end
        db[:import_refusals].multi_insert(rows)
      end

      def counted(before, verdicts)
        by = verdicts.group_by(&:what).transform_values(&:size)
        {"made" => "make", "changed" => "change", "same" => "same", "refused" => "refused"}
          .to_h { |name, what| [name, before[name].to_i + by.fetch(what, 0)] }
      end

      # @param more [Hash] columns of the table
      def go_on(job, import, bit, state, now, more)
        over = bit.over
        @root.jobs.progress(job, looked_at: more.delete(:moved), started: 0,
          place: over ? nil : {"byte" => bit.place}, now:)
        ended = over ? {state:, ended_at: now} : {}
        db[:imports].where(id: import[:id]).update(place: bit.place, line: bit.line, **more, **ended)
      end
    end
  end
end
