# frozen_string_literal: true

module Yenvo
  module Store
    # Fills in papers by hand: for a task that asks for one, and to look at one beside a record.
    class Filling < Base
      # @param now [Time]
      def initialize(root, now)
        super(root)
        @now = now
      end

      # Makes the paper that a task asks for, and attaches it.
      # @param task [Hash] row
      # @return [Integer] id of the file
      # @raise [Refused] when there is no such paper any more, or it cannot be filled in
      def for_task(task, cause:)
        kept = schema.papers[task[:fills]] || refuse("paper", GONE)
        row = task[:record_id] ? root.records.row!(task[:record_id]) : refuse("paper", NO_RECORD)
        paper = bound(kept, schema.kind!(row[:kind]))
        root.attachments.lay({task_id: task[:id]}, made(kept, paper, facts(row, paper.needs), row), cause:)
      end

      # @param row [Hash] of a record
      # @param needs [Array<Core::Need>]
      # @return [Core::Facts] as it stands now
      def facts(row, needs)
        event = Core::Event.look(row[:kind], Image.of(row), at: @now)
        root.snapshots.facts([event], today: calendar.date_of(@now)) { needs }.first
      end

      GONE = "The paper of this task was taken away, so it cannot be filled in."
      NO_RECORD = "The paper of this task is filled in from a record, and this task is about none."
      WRONG_KIND = "The paper of this task is filled in from other records than the one it is about."
      private_constant :GONE, :NO_RECORD, :WRONG_KIND

      private

      def bound(kept, kind)
        refuse("paper", WRONG_KIND) unless kept.for?(kind)

        paper, problems = Core::Papers.bind(*root.library.paper(kept.key, kept.number), kind, schema)
        paper || refuse("paper", "#{kept.name} does not fit any more: #{problems.first}")
      end

      def made(kept, paper, facts, record)
        filled = paper.fill(facts, rule_name: "", today: calendar.date_of(@now))
        name = Core::Papers.file_name("#{kept.name} #{record[:title]}", kept.form)
        Core::Effects::MakePaper.new(
          action: "paper", words: "Paper: #{name}", record: nil, on: nil, name:, paper: kept.key,
          number: kept.number, filled:
        )
      rescue Core::Error => error
        raise if error.is_a?(Refused)

        refuse("paper", "#{kept.name} cannot be filled in, #{error.message.delete_suffix(".")}.")
      end
    end
  end
end
