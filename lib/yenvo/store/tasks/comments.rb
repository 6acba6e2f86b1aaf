# frozen_string_literal: true

module Yenvo
  module Store
    # What people say about a task. Who is named with an @ is told.
    class Comments < Base
      keeps :comments

      MAX = 4_000
      MOST = 200
      MENTION = /(?<![\w@])@([a-z0-9_]{1,64})/i

      # @return [Array<Hash>] the oldest first
      def of(task_id) = table.where(task_id:).order(:id).limit(MOST).all

      # @param text [String]
      # @return [Hash] the row
      # @raise [Refused, NotFound]
      def add(task_id, text, cause:)
        words = text.to_s.strip
        refuse("text", "A comment takes a few words.") if words.empty?
        if words.size > MAX
          most, there = [MAX, words.size].map { |count| Core::Show.count(count) }
          refuse("text", "A comment takes at most #{most} characters; this has #{there}. Shorten it.")
        end

        root.transaction do
          task = root.tasks.find!(task_id)
          if table.where(task_id:).count >= MOST
            refuse("text", "There are #{MOST} comments on this task already; write a note on its record instead.")
          end

          id = table.insert(task_id:, by: cause.who, at: cause.at, text: words)
          told = mentioned(words) - [cause.who]
          said = "#{schema.name_of(cause.who)} on “#{task[:title]}”: #{words}"
          about = {record_id: task[:record_id], task_id:, run_id: cause.run}
          root.notices.add(told, said, at: cause.at, what: "mention", **about) if told.any?
          root.journal.add_about_task("commented", cause, task, words, told:)
          table.where(id:).first
        end
      end

      # @return [Array<String>] keys of the persons named by key or by first name
      def mentioned(text)
        people = schema.people.each_value.select(&:active)
        text.scan(MENTION).flatten.map(&:downcase).uniq.filter_map do |name|
          people.find { |person| person.key == name || person.name.split.first.downcase == name }&.key
        end
      end
    end
  end
end
