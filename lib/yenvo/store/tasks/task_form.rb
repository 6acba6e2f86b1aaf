# frozen_string_literal: true

module Yenvo
  module Store
    # Reads what people write about a task, by Core::Schema::TaskField, into columns. What does not fit is refused with
    # a sentence at its field.
    class TaskForm < Base
      # Types of the fields of records that take the same texts.
      TEXTS = {"lines" => "text", "line" => "text", "text" => "long_text", "link" => "url"}.freeze

      # @param given [Hash{String => Object}] see Tasks#make
      # @return [Hash] columns of a new task
      # @raise [Refused]
      def read(given, cause)
        fits_paper!(*given.values_at("fills", "record_id"))
        {
          state: "open", open: true, record_id: record_of(given["record_id"]),
          parent_id: given["parent_id"] && root.task_rows.find!(given["parent_id"])[:id], made_by: cause.who,
          made_at: cause.at, **written(given, "new"),
          **assignee(given.merge("now" => cause.at), cause.who, whose(given["record_id"]))
        }
      end

      # @return [String] said of a record that is not there
      def self.gone(id) = "Record #{id} is gone; choose another or leave it out."

      # @param given [Hash{String => Object}] see Tasks#edit
      # @param task [Hash] row as it is
      # @return [Hash] columns of those that are given
      def edits(given, task) = written(given, "edit", task) { |field| given.key?(field.column) }

      # @param form [String] of Core::Schema::TaskField::FORMS
      # @yieldparam field [Core::Schema::TaskField]
      # @yieldreturn [Boolean] whether it counts
      # @return [Hash] columns
      def written(given, form, task = nil)
        fields = Core::Schema::TaskField.of(form)
        fields = fields.select { |field| yield(field) } if block_given?
        fields.inject({}) { |columns, field| columns.merge!(column(field, given, task)) }
      end

      def column(field, given, task)
        return due(given, task) if field.type == "due"

        name = field.column
        value = given[name]
        value = field.usual if value.nil? && task.nil?
        {name.to_sym => read_value(field, value)}
      end

      def read_value(field, value)
        case field.type
        when *TEXTS.keys then needed(field, text(field.column, field.label, value, TEXTS[field.type]))
        when "choice" then choice(field, value)
        when "level" then field.choices.index(choice(field, value))
        when "day" then date(value, field.column, field.seen_as)
        when "moment" then moment(value)
        when "answers" then JSON.generate(answers(value))
        when "fills" then paper(value)
        else value
        end
      end

      # @param task [Hash, nil] row as it is, whose time of day stays when none is given
      # @return [Hash] columns of the due date
      def due(given, task)
        on = date(given["due_on"])
        minutes = (task.nil? || given.key?("due_at")) ? time(given["due_at"]) : task[:due_minutes] if on
        root.task_rows.due_columns(on, minutes)
      end

      # @return [Time, nil]
      def moment(value) = text("remind_at", "Reminder", value, "datetime")&.then { |text| Time.iso8601(text) }

      # @return [Array<String>] the answers that a task asks for
      def answers(given)
        all = Array(given).map { |one| text("answers", "An answer", one, "text") }.compact
        if all.map(&:downcase).uniq.size < all.size
          refuse("answers", "The answers differ from each other: each stands once.")
        end
        most = Core::Schema::TaskField::MAX_ANSWERS
        longest = Core::Schema::TaskField::MAX_ANSWER
        if all.size > most || all.any? { |one| one.size > longest }
          said = "A task asks for at most #{most} answers, each of at most #{longest} characters."
          refuse("answers", said)
        end

        all
      end

      # @return [String, nil] key of the paper that a task asks for
      def paper(key)
        return if key.to_s.empty?

        schema.papers.key?(key) ? key : refuse("fills", "There is no such paper any more; choose another, or none.")
      end

      # @param type [String] of a field that takes such a text
      # @return [String, nil]
      def text(key, label, value, type = "long_text")
        Core::Reading.value(Core::Schema::Field.of(key, label, type), value, schema)
      rescue Core::Unreadable => error
        raise Refused.at(key => error.message)
      end

      # @return [Date, nil]
      def date(value, key = "due_on", label = "Due")
        plain = text(key, label, value, "date")
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
      # @param whose [Array, nil] see +whose+
      # @return [Hash] columns assignee, queue, team
      def assignee(given, usual, whose = nil)
        return by_team(given, whose) if given["team"] && given["team_way"]

        queue = given["queue"]
        person = given["assignee"] || (queue ? nil : usual)
        unless queue.nil? || schema.queues.key?(queue)
          refuse("queue", "There is no queue #{Core::Show.quoted(queue)}; choose one from the list.")
        end
        refuse("assignee", "Choose who shall do it.") unless person || queue
        unless person.nil? || schema.person(person)&.active
          refuse("assignee", "#{schema.name_of(person)} is not here any more; choose somebody else.")
        end
        refuse("assignee", "#{schema.name_of(person)} is a program; choose a person.") if schema.person(person)&.program
        sees!(person, whose)

        {assignee: person, queue:, team: root.task_rows.team_of(person, queue)}
      end

      # @param record [Integer, nil]
      # @return [Array(Core::Schema::Kind, String), nil] kind and owner of the record that a task is about
      def whose(record)
        row = schema.hides? && record && db[:records].where(id: record).select(:kind, :owner).first
        kind = row && schema.kind(row[:kind])
        [kind, row[:owner]] if kind
      end

      # @param queue [String, nil]
      # @param kind [String, nil] of the record that the task is about
      # @raise [Refused] when the queue does not take such a task
      def fits_queue!(queue, kind)
        why = queue && schema.queue_refuses(queue, kind)
        refuse("queue", "#{why.sub(/\A\w/, &:upcase)}. Choose another queue, or somebody.") if why
      end

      private

      # @param record [Integer, nil] that the task is about
      def fits_paper!(key, record)
        kept = schema.papers[key]
        kind = kept && schema.kind(db[:records].where(id: record).get(:kind))
        return if kept.nil? || (kind && kept.for?(kind))

        refuse("fills", "#{kept.name} is filled in from other records than the one the task is about; choose another.")
      end

      def sees!(person, whose)
        return if person.nil? || whose.nil? || schema.access(person).may?(:seen_by, *whose)

        refuse("assignee", "#{schema.name_of(person)} may not see this #{whose[0].noun}; choose somebody who does.")
      end

      def choice(field, value)
        return value if field.choices.include?(value)

        raise Refused.at(field.key => "#{field.key.capitalize} takes one of #{field.choices.join(", ")}.")
      end

      def needed(field, text)
        return text if text || field.type != "lines"

        refuse(field.key, "#{field.label} takes a few words that say what to do.")
      end

      # Somebody of a team, by turns or by the lightest load, as rules choose.
      def by_team(given, whose)
        type = TEAM_WAYS[given["team_way"]]
        way =
          type&.bind({"team" => given["team"]}, nil, schema) ||
          refuse("assignee", "Choose a team that there is, and by turns or by load.")
        now = given.fetch("now")
        desk = root.desks.open(now:)
        facts = Core::Facts.new(Core::Event.look(nil, {}, at: now), desk:)
        pick = Core::Assignment::Chooser.new(way, nil, schema).choose(facts, today: calendar.date_of(now), whose:)
        root.desks.settle(desk)
        {assignee: pick.person, queue: nil, team: root.task_rows.team_of(pick.person, nil)}
      rescue Core::Error => error
        raise error if error.is_a?(Refused)

        refuse("assignee", error.message)
      end
      TEAM_WAYS = {"turns" => Core::Assignment::ByTurns, "load" => Core::Assignment::LightestLoad}.freeze
      private_constant :TEAM_WAYS

      def record_of(id)
        return unless id

        db[:records].where(id:).get(:id) ||
          raise(Refused.at("record_id" => TaskForm.gone(id)))
      end
    end
  end
end
