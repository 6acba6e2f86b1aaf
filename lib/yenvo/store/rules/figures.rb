# frozen_string_literal: true

module Yenvo
  module Store
    # Live figures per rule: runs of the last days, open and done tasks, answer time.
    class Figures < Base
      DAYS = 30

      # @return [Hash{Integer => Hash}] by rule: days (runs per day, oldest first), runs, failed, open, done,
      #   median_minutes
      def of_rules(now:)
        since = now - (DAYS * 86_400)
        found = Hash.new { |hash, id| hash[id] = {days: Array.new(DAYS, 0), runs: 0, failed: 0, open: 0, done: 0} }
        runs(since, now).each { |row| add_day(found[row[:rule_id]], row) }
        open = root.task_rows.open.exclude(rule_id: nil).group_and_count(:rule_id).as_hash(:rule_id, :count)
        open.each { |id, count| found[id][:open] = count }
        answers(since).each { |row| found[row[:rule_id]].merge!(done: row[:done], median_minutes: row[:median]&.to_f) }
        found
      end

      private

      def runs(since, now)
        age = Sequel.function(:floor, Sequel.function(:timestampdiff, Sequel.lit("SECOND"), :at, now) / 86_400)
        db[:runs].where(Sequel[:at] >= since).group(:rule_id, :state, :age)
          .select(:rule_id, :state, age.as(:age), Sequel.function(:count).*.as(:runs)).all
      end

      def add_day(figures, row)
        figures[:days][DAYS - 1 - row[:age].to_i.clamp(0, DAYS - 1)] += row[:runs]
        figures[:runs] += row[:runs]
        figures[:failed] += row[:runs] if row[:state] == "failed"
      end

      # MEDIAN is a window function in MariaDB, so each group's value stands in all its rows.
      def answers(since)
        median = Sequel.function(:median, :took_minutes).over(partition: :rule_id)
        done = Sequel.function(:count, :id).over(partition: :rule_id)
        root.task_rows.done_since(since).exclude(rule_id: nil)
          .select(:rule_id, median.as(:median), done.as(:done)).distinct.all
      end
    end
  end
end
