# frozen_string_literal: true

module Yenvo
  module Core
    module Actions
      # A MakeTask tied to the schema and the working calendar: plans tasks.
      class BoundMakeTask < Action
        # Lines of a title that become a task each.
        MAX_LINES = 200

        def self.words = "Make a task"

        # @return [Array<PlannedTask>] one for each person and each line of the title that has words
        # @raise [Error] a sentence, when a text or the assignment fails
        def plan(facts, now:, rule_name:)
          about = @target.own? ? nil : @target.find(facts)
          return nothing(@target.missing) unless about || @target.own?

          today = @schema.calendar.zone.date_of(now)
          texts = @texts.transform_values { |text| Reading.trim(text.fill(facts, rule_name:, today:)) }
          # An empty line is never a task.
          lines = texts[:title].split("\n").map { |line| Reading.trim(line) }.reject(&:empty?)
          return nothing("the title came out empty, and an empty line is never a task") if lines.empty?

          titles = lines.first(MAX_LINES)

          texts, no_link = linked(texts)
          dates = @dates.transform_values { |date| date.work_out(facts, now:) }
          picks = @chooser.choose_all(facts, today:)
          notes = notes(dates) + left_out(lines) + no_link
          paper = @paper&.transform_values { |text| text.fill(facts, rule_name:, today:).strip }
          titles.flat_map do |title|
            picks.map { |pick| planned(texts, title, pick, dates, notes, about, paper) }
          end
        end

        def shown = Text.shown(@doing.title, @kind, @schema)

        private

        def action = @doing

        def prepare
          target
          @as_written = written(&:as_written?)
          @texts = bind_texts(@kind, @place.path, @problems)
          @paper = bind_paper
          @dates = bind_dates(@kind, @place.path, @problems)
          @chooser = bind_assign(@kind, @place.path, @problems)
          if action.under && !action.under.between?(1, @place.index)
            @problems << Problem.at(path("under"), "must be the number of an earlier action of this branch")
          end
          @needs += [
            *@texts.values.flat_map(&:needs), *@paper&.values&.flat_map(&:needs), *@dates.values.flat_map(&:needs),
            *@ways.flat_map(&:references).flat_map(&:needs)
          ]
        end

        def planned(texts, title, pick, dates, notes, about, paper)
          PlannedTask.new(
            **@as_written, **texts, **dates, title: title[0, Reading::MAX_TEXT], assignee: pick.person,
            queue: pick.queue, reason: pick.reason, notes:, about:, paper:, **origin
          )
        end

        # @return [Hash] what a task has besides when it comes from a kit
        def origin = BY_RULE

        BY_RULE = {}.freeze
        private_constant :BY_RULE

        # A link is looked at when it is filled in: what visitors write must not become one that runs something.
        # @return [Array(Hash, Array<String>)] the texts, and what there is to say
        def linked(texts)
          link = texts[:web_link].to_s
          return [texts, []] if link.empty? || (Reading.web?(link) && link.size <= Reading::MAX_TEXT)

          [
            texts.except(:web_link),
            ["the web link came out as #{Show.quoted(link)}, which is no web address, so it was left out"]
          ]
        end

        # @return [Array<String>] what did not become a task, or not whole
        def left_out(lines)
          long = lines.first(MAX_LINES).count { |line| line.size > Reading::MAX_TEXT }
          [
            (
              if lines.size > MAX_LINES
                "#{lines.size - MAX_LINES} lines beyond the first #{MAX_LINES} were left out"
              end
            ),
            (
              if long.positive?
                "#{long} of the titles had more than #{Show.count(Reading::MAX_TEXT)} characters and were cut there"
              end
            )
          ].compact
        end

        def notes(dates)
          @dates.map do |name, bound|
            due = dates[name]
            label = {start: "start", remind: "reminder", due: "due"}.fetch(name)
            next "no #{label} date: #{bound.missing}" unless due
            next "#{label} #{bound.phrase}" unless due.moved_from

            "#{label} #{bound.phrase}; #{Show.date(due.moved_from)} is #{due.off}, so it moved to #{Show.date(due.on)}"
          end
        end

        def bind_texts(kind, path, problems)
          if Reading.trim(action.title.to_s).empty?
            problems << Problem.at([*path, "title"], "must have words; a task without a title is never made")
          end
          lines = action.title.to_s.lines.count { |line| !Reading.trim(line).empty? }
          if lines > MAX_LINES
            problems << Problem.at(
              [*path, "title"], "must have at most #{MAX_LINES} lines, since each becomes a task; this has #{lines}"
            )
          end
          written(&:template?).to_h do |name, source|
            [name, Text.bind(source, kind, @schema, path: [*path, name.to_s], problems:)]
          end.compact
        end

        # @return [Hash{String => Text}, nil]
        def bind_paper
          return unless action.paper

          action.paper.each do |name, source|
            @problems << Problem.at(path("paper", name), "must have words") if source.strip.empty?
          end
          texts =
            action.paper.to_h do |name, source|
              [name, Text.bind(source, @kind, @schema, path: path("paper", name), problems: @problems)]
            end
          texts.values.all? ? texts : nil
        end

        def bind_dates(kind, path, problems)
          written(&:date?).to_h do |name, rule|
            [name, bind_date(rule, kind, [*path, name.to_s], problems)]
          end.compact
        end

        def bind_date(rule, kind, path, problems) =
          BoundDate.bind(rule, kind, @schema, @schema.calendar, path:, problems:)

        # @yieldparam field [Schema::TaskField]
        # @return [Hash{Symbol => Object}] what is written in some of the fields
        def written(&which) =
          Schema::TaskField.of("rule").select(&which).to_h { |field| [field.name, action[field.name]] }.compact

        def bind_assign(kind, path, problems)
          @ways = []
          way = bind_way(action.assign, kind, [*path, "assign"], problems)
          fallback = bind_way(action.fallback, kind, [*path, "fallback"], problems)
          problems << Problem.at([*path, "assign"], "must say who gets the task") unless action.assign
          if way&.may_fail? && action.fallback.nil?
            problems << Problem.at(
              [*path, "fallback"], "must name somebody for when #{way.described} is nobody or away"
            )
          end
          if fallback&.then { |other| other.class.may_fail? }
            problems << Problem.at(
              [*path, "fallback", "to"], "must be a named person or a queue, so that there is always someone"
            )
          end
          Assignment::Chooser.new(way, fallback, @schema, @schema.calendar) if way
        end

        def bind_way(written, kind, path, problems)
          return unless written

          type = Assignment.all.fetch(written["to"])
          type.bind(written.except("to"), kind, @schema, path:, problems:)
            .tap { |way| @ways << way if way }
        end
      end
    end
  end
end
