# frozen_string_literal: true

module Yenvo
  module Store
    # Reads what people write about a task into columns. What does not fit is refused with a sentence at its field.
    class TaskForm < Part
      TEXTS = {"title" => %w[Title text], "text" => %w[Text long_text], "web_link" => ["Web link", "url"]}.freeze

      # @param given [Hash{String => Object}] see Tasks#make
      # @return [Hash] columns of a new task
      # @raise [Refused]
      def read(given, cause)
        texts = TEXTS.to_h { |key, (label, type)| [key.to_sym, text(key, label, given[key], type)] }
        raise Refused.at("title" => "Title takes a few words that say what to do.") unless texts[:title]

        due = date(given["due_on"])
        {
          way: choice(given, "way", Core::Actions::MakeTask::WAYS, "other"),
          priority: Tasks::PRIORITIES.index(choice(given, "priority", Tasks::PRIORITIES, "normal")),
          state: "open", open: true, start_on: date(given["start_on"], "start_on"),
          remind_at: moment(given["remind_at"]), record_id: record_of(given["record_id"]),
          parent_id: given["parent_id"] && root.tasks.find!(given["parent_id"])[:id],
          answers: JSON.generate(answers(given["answers"])), made_by: cause.who, made_at: cause.at,
          **texts, **assignee(given.merge("now" => cause.at), cause.who),
          **root.tasks.due_columns(due, due && time(given["due_at"]))
        }
      end

      # @param given [Hash{String => Object}] see Tasks#edit
      # @param task [Hash] row as it is
      # @return [Hash] columns of those that are given
      def edits(given, task)
        changes =
          TEXTS.slice(*given.keys).to_h { |key, (label, type)| [key.to_sym, text(key, label, given[key], type)] }
        if changes.key?(:title) && changes[:title].nil?
          raise Refused.at("title" => "Title takes a few words that say what to do.")
        end

        changes[:way] = choice(given, "way", Core::Actions::MakeTask::WAYS, nil) if given.key?("way")
        changes[:priority] = Tasks::PRIORITIES.index(choice(given, "priority", Tasks::PRIORITIES, nil)) if given.key?(
          "priority"
        )
        changes[:start_on] = date(given["start_on"], "start_on") if given.key?("start_on")
        changes[:remind_at] = moment(given["remind_at"]) if given.key?("remind_at")
        changes[:answers] = JSON.generate(answers(given["answers"])) if given.key?("answers")
        changes[:place] = given["place"] if given.key?("place")
        given.key?("due_on") ? changes.merge(due(given, task)) : changes
      end

      # @return [Hash] columns of the due date
      def due(given, task)
        on = date(given["due_on"])
        root.tasks.due_columns(on, on && (given.key?("due_at") ? time(given["due_at"]) : task[:due_minutes]))
      end

      # @return [Time, nil]
      def moment(value) = text("remind_at", "Reminder", value, "datetime")&.then { |text| Time.iso8601(text) }

      # @return [Array<String>] the answers that a task asks for
      def answers(given)
        all = Array(given).map { |one| text("answers", "An answer", one, "text") }.compact
        if all.map(&:downcase).uniq.size < all.size
          raise Refused.at("answers" => "The answers differ from each other: each stands once.")
        end
        if all.size > MOST_ANSWERS || all.any? { |one| one.size > MAX_ANSWER }
          raise Refused.at(
                  "answers" =>
                    "A task asks for at most #{MOST_ANSWERS} answers, each of at most #{MAX_ANSWER} characters."
                )
        end

        all
      end
      MOST_ANSWERS = 9
      MAX_ANSWER = 60

      # @param type [String] of a field that takes such a text
      # @return [String, nil]
      def text(key, label, value, type = "long_text")
        Core::Reading.value(Core::Schema::Field.of(key, label, type), value, root.schema)
      rescue Core::Unreadable => error
        raise Refused.at(key => error.message)
      end

      # @return [Date, nil]
      def date(value, key = "due_on")
        plain = text(key, (key == "due_on") ? "Due" : "Start", value, "date")
        plain && Date.iso8601(plain)
      end

      # @return [Integer, nil] minutes of the day
      def time(text)
        return if text.to_s.empty?

        Core::ClockTime.parse(text) ||
          raise(Refused.at("due_at" => "The time of day is written like 09:00; #{text.to_s[0, 20].inspect} is none."))
      end

      # @param given [Hash] assignee, queue, or team and team_way ("turns", "load") with "now"
      # @param usual [String, nil] who it is when nobody is named
      # @return [Hash] columns assignee, queue, team
      def assignee(given, usual)
        return by_team(given) if given["team"] && given["team_way"]

        queue = given["queue"]
        person = given["assignee"] || (queue ? nil : usual)
        if queue && !root.schema.queues.key?(queue)
          raise Refused.at("queue" => "There is no queue #{Core::Show.quoted(queue)}; choose one from the list.")
        end
        raise Refused.at("assignee" => "Choose who shall do it.") if person.nil? && queue.nil?
        if person && !root.schema.person(person)&.active
          raise Refused.at("assignee" => "#{root.schema.name_of(person)} is not here any more; choose somebody else.")
        end

        {assignee: person, queue: queue, team: root.tasks.team_of(person, queue)}
      end

      private

      def choice(given, key, known, usual)
        value = given[key] || usual
        known.include?(value) ? value : raise(Refused.at(key => "#{key.capitalize} takes one of #{known.join(", ")}."))
      end

      # Somebody of a team, by turns or by the lightest load, as rules choose.
      def by_team(given)
        type = {"turns" => Core::Assignment::ByTurns, "load" => Core::Assignment::LightestLoad}[given["team_way"]]
        way =
          type&.bind({"team" => given["team"]}, nil, root.schema) ||
          raise(Refused.at("assignee" => "Choose a team that there is, and by turns or by load."))
        now = given.fetch("now")
        desk = root.desks.open(now: now)
        facts =
          Core::Facts.new(
            Core::Event.new(id: nil, what: "task", kind: nil, record_id: nil, before: {}, after: {}, who: nil, at: now),
            desk: desk
          )
        pick =
          Core::Assignment::Chooser.new(way, nil, root.schema, root.calendar).choose(
            facts, today: root.calendar.zone.date_of(now)
          )
        root.desks.settle(desk)
        {assignee: pick.person, queue: nil, team: root.tasks.team_of(pick.person, nil)}
      rescue Core::Error => error
        raise error if error.is_a?(Refused)

        raise Refused.at("assignee" => error.message)
      end

      def record_of(id)
        return unless id

        db[:records].where(id: id).get(:id) ||
          raise(Refused.at("record_id" => "Record #{id} is gone; choose another or leave it out."))
      end
    end
  end
end
