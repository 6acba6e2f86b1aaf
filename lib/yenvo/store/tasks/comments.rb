# frozen_string_literal: true

module Yenvo
  module Store
    # What people say about a task. Who is named with an @ is told.
    class Comments < Base
      MAX = 4_000
      MOST = 200
      MENTION = /(?<![\w@])@([a-z0-9_]{1,64})/i

      # @return [Array<Hash>] the oldest first
      def of(task_id) = db[:comments].where(task_id:).order(:id).limit(MOST).all

      # @param text [String]
      # @return [Hash] the row
      # @raise [Refused, NotFound]
      def add(task_id, text, cause:)
        words = text.to_s.strip
        raise Refused.at("text" => "A comment takes a few words.") if words.empty?
        if words.size > MAX
          raise Refused.at(
                  "text" =>
                    "A comment takes at most #{Core::Show.count(MAX)} characters; this has " \
                    "#{Core::Show.count(words.size)}. Shorten it."
                )
        end

        root.transaction do
          task = root.tasks.find!(task_id)
          if db[:comments].where(task_id:).count >= MOST
            raise Refused.at(
                    "text" => "There are #{MOST} comments on this task already; write a note on its record instead."
                  )
          end

          id = db[:comments].insert(task_id:, by: cause.who, at: cause.at, text: words)
          told = mentioned(words) - [cause.who]
          if told.any?
            root.notices.add(
              told, "#{root.schema.name_of(cause.who)} on “#{task[:title]}”: #{words}", at: cause.at,
              record_id: task[:record_id], task_id:
            )
          end
          root.journal.add(
            "commented", cause, task_id:, record_id: task[:record_id], kind: task[:kind],
            detail: {"title" => task[:title], "text" => words, "told" => told}
          )
          db[:comments].where(id:).first
        end
      end

      # @return [Array<String>] keys of the persons named by key or by first name
      def mentioned(text)
        people = root.schema.people.each_value.select(&:active)
        text.scan(MENTION).flatten.map(&:downcase).uniq.filter_map do |name|
          people.find { |person| person.key == name || person.name.split.first.downcase == name }&.key
        end
      end
    end
  end
end
