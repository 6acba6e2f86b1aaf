# frozen_string_literal: true

module Yenvo
  module Core
    module Kits
      # The template of one task. key: a handle that stays when it is moved; title, text, web_link, way, priority,
      # assign, fallback, start, remind, due, answers, log, paper: as in Actions::MakeTask; after: Array of ways in,
      # each an Array of Step all of which are needed, one way being enough, empty for "at the start"; opens: Opening or
      # nil.
      KitTask =
        Value.define(
          :key, :title, :text, :web_link, :way, :priority, :assign, :fallback, :start, :remind, :due, :answers, :after,
          :opens, :log, paper: nil
        ) do
          # @return [KitTask] with the usual values for what is not given
          def self.of(**given)
            blank = {
              text: nil, web_link: nil, way: "other", priority: "normal", assign: nil, fallback: nil, start: nil,
              remind: nil, due: nil, answers: [], after: [], opens: nil, log: false
            }
            new(**blank, **given)
          end

          # @return [Hash] as in a kit file
          def to_h
            plain = {
              "key" => key, "title" => title, "text" => text, "web_link" => web_link, "way" => way,
              "priority" => priority, "assign" => assign, "fallback" => fallback
            }
            %i[start remind due].each { |name| plain[name.to_s] = self[name]&.to_h }
            plain.merge(
              "answers" => (answers unless answers.empty?),
              "after" => (after.map { |steps| steps.map(&:to_h) } unless after.empty?), "opens" => opens&.to_h,
              "log" => (true if log), "paper" => paper
            ).compact
          end

          # @return [Actions::MakeTask] the same as an action, so that both are tied and planned alike
          def make
            Actions::MakeTask.of(
              title: title, text: text, web_link: web_link, way: way, priority: priority, assign: assign,
              fallback: fallback, start: start, remind: remind, due: due, answers: answers, log: log, paper: paper
            )
          end
        end
    end
  end
end
