# frozen_string_literal: true

module Yenvo
  module Core
    module Actions
      # Fills in a paper of the set-up and attaches it to the record, or to a task that was made before or is watched.
      class MakePaper < Action
        include OnTask

        def self.takes = {"document" => :kept, "name" => :template, "on" => :text}
        def self.required = %w[document name]
        def self.words = "Make a paper"

        def plan(facts, now:, rule_name:)
          name = Papers.file_name(fill(@name, facts, now, rule_name), @form)
          filled = @paper.fill(facts, rule_name:, today: today(now))
          [
            effect(
              Effects::MakePaper, "Paper: #{name}", record: on_task? ? nil : facts.record_id, on: (on if on_task?),
              name:, paper: @kept.key, number: @number, filled:
            )
          ]
        rescue Error => error
          raise Error, "The paper #{@kept.name} cannot be filled in, #{error.message.sub(/\.?\z/, ".")}"
        end

        def shown = "Paper: #{@kept.name}"

        private

        # A rule about tasks has no record of its own to attach it to.
        def on_task? = !settings["on"].nil? || @kind.task?

        def prepare
          check_on if on_task?
          @name = template("name")
          @kept = kept("document", @schema.papers) or return
          @number = @kept.version(settings["document"])
          @form, body = version_of(@kept, "document") { |number| @schema.library.paper(@kept.key, number) }
          return unless body

          @paper, problems = Papers.bind(@form, body, @kind, @schema)
          problems&.each { |sentence| wrong("document", "must fit the rule; of #{@kept.name}, #{sentence}") }
          @needs += @paper.needs if @paper
        end
      end
    end
  end
end
