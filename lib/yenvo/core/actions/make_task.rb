# frozen_string_literal: true

module Yenvo
  module Core
    module Actions
      # Makes a task, as it is written. title, text, web_link: texts with blanks; way: one of WAYS; priority: one of
      # PRIORITIES; assign, fallback: Hash with "to" and the settings of that way to assign, or nil; start, remind,
      # due: DateRule or nil; place: number in an order, or nil; answers: texts to choose from when it is done;
      # under: number (from 1) of an earlier action of the branch whose task is the parent, or nil; of: the record it is
      # about (see Target), nil for that of the rule; ask: true when whoever
      # caused it is shown the task first and sends it or throws it away; log: true when finishing it is logged as an
      # interaction; paper: Hash with "name" and "text", texts with blanks that are filled in and attached as a file, or
      # nil.
      MakeTask =
        Value.define(
          :title, :text, :web_link, :way, :priority, :assign, :fallback, :start, :remind, :due, :place, :answers,
          :under, of: nil, ask: false, log: false, paper: nil
        ) do
          # @return [MakeTask] with the usual values for what is not given
          def self.of(**given)
            blank = {
              text: nil, web_link: nil, way: "other", priority: "normal", assign: nil, fallback: nil, start: nil,
              remind: nil, due: nil, place: nil, answers: [], under: nil
            }
            new(**blank, **given)
          end

          # @return [Hash] as in a rule file
          def to_h
            plain = members.to_h { |member| [member.to_s, self[member]] }
            %w[start remind due].each { |name| plain[name] = plain[name]&.to_h }
            plain.delete("answers") if answers.empty?
            %w[ask log].each { |name| plain.delete(name) unless plain[name] }
            {"action" => "task", **plain.compact}
          end

          def name = "task"
          def settings = {"of" => of}
        end

      MakeTask::WAYS = %w[call email letter visit check other].freeze
      MakeTask::PRIORITIES = %w[low normal high urgent].freeze
      MakeTask::DATES = %i[start remind due].freeze
      MakeTask::MAX_ANSWERS = 9
    end
  end
end
