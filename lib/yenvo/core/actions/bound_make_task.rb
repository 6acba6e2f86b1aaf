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

          today = today(now)
          read = read_there(facts, @target)
          fill = ->(text) { Reading.trim(text.fill(read, rule_name:, today:)) }
          texts = @texts.transform_values(&fill)
          # An empty line is never a task.
          lines = lines(texts[:title])
          return nothing("the title came out empty, and an empty line is never a task") if lines.empty?

          texts, no_link = linked(texts)
          dates = @dates.transform_values { |date| date.work_out(facts, now:) }
          picks = @chooser.choose_all(facts, today:, whose: whose(facts, @target))
          notes = notes(dates) + left_out(lines) + no_link
          paper = @paper&.transform_values(&fill)
          lines.first(MAX_LINES).product(picks).map do |title, pick|
            planned(texts, title, pick, dates, notes, about, paper)
          end
        end

        def shown = Text.shown(@doing.title, @kind, @schema)

        private

        def action = @doing

        def prepare
          target
          @as_written = written(&:as_written?)
          check_title
          @texts = tie(written(&:template?)) { |name, source| text(source, name) }
          @paper = action.paper && bind_paper
          @dates = tie(written(&:date?)) { |name, rule| date(rule, name) }
          @chooser = bind_assign
          check_fills
          return if action.under.nil? || action.under.between?(1, @place.index)

          wrong("under", "must be the number of an earlier action of this branch")
        end

        # @return [Hash{Symbol => Object}] what could be tied of what is written
        def tie(written) = written.to_h { |name, one| [name, yield(name.to_s, one)] }.compact

        def planned(texts, title, pick, dates, notes, about, paper)
          PlannedTask.new(
            **@as_written, **texts, **dates, title: Reading.cut(title), assignee: pick.person, queue: pick.queue,
            reason: pick.reason, notes:, about:, paper:, **origin
          )
        end

        # @param title [String] without blanks around it
        # @return [Array<String>]
        def lines(title) =
          if title.include?("\n")
            title.split("\n").map { |line| Reading.trim(line) }.reject(&:empty?)
          else
            title.empty? ? [] : [title]
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
          more = lines.size - MAX_LINES
          long = lines.first(MAX_LINES).count { |line| line.size > Reading::MAX_TEXT }
          said = []
          said << "#{more} lines beyond the first #{MAX_LINES} were left out" if more.positive?
          if long.positive?
            said << "#{long} of the titles had more than #{Show.count(Reading::MAX_TEXT)} characters and were cut there"
          end
          said
        end

        def notes(dates)
          @dates.map do |name, bound|
            due = dates[name]
            label = {start: "start", remind: "reminder", due: "due"}.fetch(name)
            next "no #{label} date: #{bound.missing}" unless due

            "#{label} #{bound.phrase}#{due.why_moved}"
          end
        end

        def check_title
          title = action.title.to_s
          if Reading.trim(title).empty?
            wrong("title", "must have words; a task without a title is never made")
          end
          lines = title.lines.count { |line| !Reading.trim(line).empty? }
          return if lines <= MAX_LINES

          wrong("title", "must have at most #{MAX_LINES} lines, since each becomes a task; this has #{lines}")
        end

        def check_fills
          return if action.fills.nil? || fitting.include?(action.fills)

          known = fitting.first(20).join(", ")
          wrong("fills", "must be a paper of the set-up for what it is about; known: #{known.empty? ? "none" : known}")
        end

        # @return [Array<String>] keys of the papers that can be filled in from the record that the task is about
        def fitting = @schema.papers.each_value.select { |one| !@target&.own? || one.for?(@kind) }.map(&:key)

        # @return [Hash{String => Text}, nil]
        def bind_paper
          action.paper.each { |name, source| wrong(["paper", name], "must have words") if source.strip.empty? }
          texts = action.paper.to_h { |name, source| [name, text(source, "paper", name)] }
          texts if texts.values.all?
        end

        # @yieldparam field [Schema::TaskField]
        # @return [Hash{Symbol => Object}] what is written in some of the fields
        def written(&which) =
          Schema::TaskField.of("rule").select(&which).to_h { |field| [field.name, action[field.name]] }.compact

        def bind_assign
          chooser = chooser(action.assign, action.fallback, people_only: false, unsaid: "must say who gets the task")
          if action.fallback && Assignment.all.fetch(action.fallback["to"]).may_fail?
            wrong(%w[fallback to], "must be a named person or a queue, so that there is always someone")
          end
          chooser
        end
      end
    end
  end
end
