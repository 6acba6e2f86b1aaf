# frozen_string_literal: true

module Yenvo
  module Core
    # What happened, in words, said here and nowhere else: the history of a record and of a task, the trail, kits in use
    # and whoever exports them draw the same pieces. A piece is a Hash with one of these: "text"; "strong"; "written",
    # what somebody wrote, with its line ends; "muted"; "alert"; "day", a date, and "moment", a time in UTC, both as
    # ISO 8601; "record", an id, with "title"; "rule", an id, with "name"; "line", an Array of pieces on a line of their
    # own.
    class Story
      # @param what [String] see WORDED
      def self.knows?(what) = WORDED.key?(what)

      # Each thing that happens, with the method that words it.
      WORDED = {
        "record_made" => :record_made, "record_changed" => :record_changed, "record_removed" => :record_removed,
        "record_merged" => :record_merged, "merged_away" => :merged_away, "record_parted" => :record_parted,
        "record_restored" => :record_restored, "record_erased" => :record_erased,
        "taken_off_list" => :taken_off_list, "linked" => :linked, "unlinked" => :unlinked,
        "put_on_list" => :put_on_list, "interaction_logged" => :interaction_logged,
        "note_edited" => :note_edited, "started" => :started, "told" => :told, "timer_fired" => :timer_fired,
        "message_written" => :message_written, "task_made" => :task_made, "task_changed" => :task_changed,
        "task_done" => :task_done,
        "task_dropped" => :task_dropped, "task_late" => :task_late, "commented" => :commented,
        "file_added" => :file_added, "file_removed" => :file_removed, "kit_begun" => :kit_begun,
        "kit_done" => :kit_done, "kit_stopped" => :kit_stopped, "kit_passed" => :kit_passed,
        "kit_moved_on" => :kit_moved_on, "kit_stuck" => :kit_stuck, "kit_dated" => :kit_dated
      }.freeze

      TIMERS = {
        "date" => "A date came near", "quiet" => "It was quiet", "schedule" => "Its day came",
        "day" => "A day made it true", "wait" => "A wait ended", "ladder" => "A ladder took a step"
      }.freeze
      private_constant :TIMERS

      # @param schema [Schema]
      # @param entry [Hash{String => Object}] what, who, kind, detail, and changes: each with field, label, from and to
      def initialize(schema, entry)
        @schema = schema
        @what = entry["what"]
        @by = entry["who"]
        @kind = schema.kind(entry["kind"])
        @detail = entry["detail"] || {}
        @changes = entry["changes"] || []
      end

      # @return [Array<Hash>]
      def pieces =
        [send(WORDED.fetch(@what, :unknown)), before_save].flatten.reject { |piece| piece.values.first == "" }

      # @return [String] the same as plain text, without the lines below it
      def to_s = pieces.filter_map { |piece| plain(piece) unless piece["line"] }.join.strip

      # @return [String] the same behind "because": "a date came near" instead of "A date came near"
      def clause
        # What a task is called is left as it is.
        pieces[0]&.key?("text") ? to_s.sub(/\A(?:A|It|Its)(?= )/, &:downcase) : to_s
      end

      # @return [Array<String>] the lines below it, as plain text
      def lines = pieces.filter_map { |piece| piece["line"]&.map { |one| plain(one) }&.join }

      private

      attr_reader :detail

      def who = @schema.name_of(@by)
      def noun = @kind&.noun || "record"
      def title = strong(detail["title"])
      def strong(words) = {"strong" => words.to_s}
      def text(*words) = {"text" => words.join}

      # @param pieces [Array<String, Hash, nil>]
      def say(*pieces) = pieces.compact.map { |piece| piece.is_a?(String) ? text(piece) : piece }
      def written(words) = {"written" => words.to_s}
      def record(id) = id ? {"record" => id, "title" => detail["title"].to_s} : title

      def plain(piece)
        kind, value = piece.first
        case kind
        when "day" then Show.date(Date.iso8601(value))
        when "moment" then Show.moment(Time.iso8601(value), @schema.zone)
        when "record" then piece["title"]
        when "rule" then piece["name"]
        else value
        end
      end

      # What rules set before the save.
      def before_save
        (detail["rules"] || []).map do |rule|
          {
            "line" => [
              {"muted" => "before the save, "}, {"rule" => rule["id"], "name" => rule["name"]},
              {"muted" => ": #{rule["words"].join("; ")}"}
            ]
          }
        end
      end

      # Of a later or an earlier Yenvo.
      def unknown = text("#{who}: #{@what.tr("_", " ")}")

      def record_made = text(detail["door"] ? "A #{detail["door"]} came in and" : who, " made the #{noun}")

      def record_changed
        moved, others = @changes.partition { |change| change["field"] == "stage" }
        return text("#{who} changed the #{noun}") if @changes.empty?

        stage = moved.flat_map { |one| ["moved the #{noun} from #{one["from"]} to ", strong(one["to"])] }
        rest = others.flat_map { |one| [", ", "#{one["label"]} from #{one["from"]} to ", strong(one["to"])] }
        rest = rest.drop(1)
        between = moved.any? ? "; also changed " : "changed "
        say("#{who} ", *stage, *(rest.any? ? [between, *rest] : []))
      end

      def record_removed = [text("#{who} took away "), title]
      def record_merged = say("#{who} merged ", *titles, " into this #{noun}")
      def merged_away = [text("#{who} merged it into "), record(detail["record"])]
      def record_parted = say("#{who} parted it from ", *titles, " again")

      def titles
        all = Array(detail["titles"])
        all.flat_map.with_index { |title, i| [joint(i, all.size - 1), strong(title)] }
      end

      def joint(place, last) = (if place.positive?
                                  (place == last) ? " and " : ", "
                                end)

      def record_erased = text("#{who} erased the #{noun} for good")
      def record_restored = text("#{who} brought the #{noun} back")
      def taken_off_list = [text("#{who} took it off "), title]
      def linked = [text("#{who} linked "), record(detail["record"] || detail["target"])]
      def unlinked = [text("#{who} took away the link with "), record(detail["record"])]

      def put_on_list =
        [
          text("#{who} put it on "),
          {"record" => detail["record"], "title" => @schema.list(detail["list"])&.plural || "a list"}
        ]

      def interaction_logged
        return mail_came if detail["sender"]

        way = EventSide::WAYS.fetch(detail["way"], detail["way"].to_s).downcase
        say("#{who} logged #{article(way)} ", strong(way), *was_at, ". ", written(detail["text"]))
      end

      def article(way) = way.match?(/\A[aeiou]/) ? "an" : "a"
      def was_at = (detail["was_at"] ? [" of ", {"moment" => detail["was_at"]}] : [])

      def mail_came
        from = [detail["name"], detail["sender"]].compact.uniq.join(", ")
        words = detail["answers"] ? "An answer by mail came from " : "A mail came from "
        say(words, strong(from), detail["subject"].to_s.empty? ? ". " : ": #{detail["subject"]}. ",
          written(detail["text"]))
      end

      def note_edited = [text("#{who} changed a note. "), written(detail["text"])]

      def started = say("#{who} started the rule ", strong(detail["name"]), detail["job"] && " on all that match")

      # How it fares is known to whoever asks, and is not of the event itself.
      def message_written
        fares = FARES[detail["state"]]
        [text("#{who} wrote: "), written(detail["text"]), *(fares && [{"muted" => " · #{fares}"}])]
      end
      FARES = {
        "waiting" => "waits to leave", "sent" => "sent", "failed" => "could not be delivered",
        "stopped" => "stopped before it left", "back" => "came back"
      }.freeze

      def told = [text("#{who} told: "), written(detail["text"])]

      def timer_fired
        about = detail["title"] || detail.dig("task", "title")
        late = detail["late"] ? [{"alert" => " late, it was due "}, {"moment" => detail["due"]}] : []
        timer = TIMERS.fetch(detail["timer"], "A timer fired")
        say("#{timer}: ", strong(detail["name"]), about && " · #{about}", *late)
      end

      def task_made = [text("#{who} made the task "), title, text(" for #{target}")]
      def task_late = [title, text(" got late")]
      def task_dropped = [text("#{who} dropped "), title, note]

      def task_done =
        say(title, " done by #{who}", detail["answer"] && ", answer: #{detail["answer"]}", note)

      def note = text(detail["note"] && " · #{detail["note"]}")

      def task_changed
        return say("#{who} took the last step of ", title, " back") if detail["taken_back"]
        return say("#{who} put ", title, " back to what it was") if detail["undone"]
        return say("#{who} opened ", title, " again") if detail["reopened"]
        return task_redated if detail["due_on"] && !detail["priority"] && !detail["state"]
        return task_passed if passed?

        priority, due, state = detail.values_at("priority", "due_on", "state")
        say(
          "#{who} changed ", title, priority && " to #{priority} priority", *(due ? [", due ", {"day" => due}] : []),
          state && ", #{state}", edited
        )
      end

      # @return [String, nil] what else of a task somebody wrote anew
      def edited
        columns = Array(detail["edited"]) - %w[priority due_on due_at due_minutes]
        fields = Schema::TaskField.of("edit").select { |field| (field.columns & columns).any? }
        ": #{fields.map { |field| field.label.split(",").first.downcase }.join(", ")}" if fields.any?
      end

      def task_redated
        why = detail["moved_with"] && ", since #{detail["moved_with"]} moved"
        at = detail["due_at"] && " #{detail["due_at"]}"
        say("#{who} put off ", title, " to ", {"day" => detail["due_on"]}, at, why)
      end

      def passed? = detail.key?("was") || Array(detail["changed"]).include?("assignee")

      # Taking a task from a queue is written down as passing it on to oneself.
      def task_passed
        was = detail["was"] && (@schema.queue_name(detail["was"]) || @schema.name_of(detail["was"]))
        return say("#{who} took ", title, " from the queue #{was}") if @by && detail["assignee"] == @by && was

        say("#{who} passed ", title, " on to #{target}", was && ", from #{was}")
      end

      def target
        return @schema.name_of(detail["assignee"]) if detail["assignee"]

        detail["queue"] ? "the queue #{@schema.queue_name(detail["queue"]) || detail["queue"]}" : "nobody"
      end

      def commented = [text("#{who} about "), title, text(": "), written(detail["text"])]
      def file_added = file("added")
      def file_removed = file("took away")

      # Of a task it is said which; of a record the history is its own.
      def file(verb)
        said = "#{who} #{verb} the file #{detail["text"]}"
        detail["title"] ? [text("#{said} at "), title] : text(said)
      end

      def kit(before, after = "") = say(before, strong(detail["kit"]), after)
      def kit_begun = kit("Begun: the kit ")
      def kit_done = kit("Finished: the kit ")
      def kit_stopped = kit("Stopped: the kit ")
      def kit_passed = kit("Skipped in the kit ", ": #{detail["task"]}")
      def kit_moved_on = kit("Goes on by version #{detail["version"]}: the kit ")
      def kit_stuck = kit("Cannot go on: the kit ", ". #{detail["why"]}")

      def kit_dated
        moves, names, why = detail["moved"] || [], detail["kept"] || [], detail["why"]
        one = moves.size == 1
        moved = moves.map { |task| line("#{task["title"]}: ", task["from"], " becomes ", task["to"]) }
        kept = names.map { |name| {"line" => [{"muted" => "#{name}: dated by hand, so it stays"}]} }
        say(
          detail.key?("to") ? "#{why} moved: " : "By #{why}: ", "#{moves.size} open #{one ? "task" : "tasks"} of ",
          strong(detail["kit"]), " #{one ? "has" : "have"} another date", *moved, *kept
        )
      end

      def line(title, from, between, to)
        day = ->(date) { date ? {"day" => date} : {"muted" => "no date"} }
        {"line" => [{"muted" => title}, day.call(from), {"muted" => between}, day.call(to)]}
      end
    end
  end
end
