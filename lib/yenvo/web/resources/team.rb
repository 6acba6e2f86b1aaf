# frozen_string_literal: true

module Yenvo
  module Web
    # The lead's view: figures by person, team, queue and rule, who is away, and passing on all tasks of a person.
    class Team < Base
      get "/?" do
        may.lead!
        by = params["by"] || "person"
        answer 200,
          {
            rows: present.team_rows(by, root.team_work.figures(by, now:)), away:
              root.team_work.away(root.calendar.date_of(now))
                .map { |one| one.merge(from: one[:from].iso8601, until: one[:until].iso8601) }
          }
      end

      post "/preview" do
        may.lead!
        rows = root.team_work.preview(body_of_call["person"], to, cause:)
        tasks = present.tasks(rows.map { |row| row[:task] })
        answer 200, {tasks:}
      end

      post "/pass-all" do
        may.lead!
        done, refused = root.team_work.pass_all(body_of_call["person"], to, cause:)
        answer 200, {tasks: present.tasks(done), refused:}
      end

      private

      def to = body_of_call["to"].slice("assignee", "queue", "team", "team_way").transform_keys(&:to_sym)
    end
  end
end
