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
            out_of_sight: team_work.out_of_sight.map { |key, open| {key:, open:} },
            may_enter: root.people.all.select { |one| may.enter_absences?(one) }.map { |one| one[:key] },
            rows: present.team_rows(by, team_work.figures(by, now:)), away:
              team_work.away(root.calendar.date_of(now))
                .map { |one| one.merge(from: one[:from].iso8601, until: one[:until].iso8601) }
          }
      end

      # The figures as a table.
      get "/table" do
        may.lead!
        by = params["by"] || "person"
        rows = present.team_rows(by, team_work.figures(by, now:))
        heads = [by.capitalize, "Open", "Late", "Done", "Answered in", "Load"]
        give_table("Team", heads) { [rows.map { |row| row.slice(*CELLS).values }, nil] }
      end
      CELLS = %i[name open late done answered_in load].freeze
      private_constant :CELLS

      post "/preview" do
        may.lead!
        rows = team_work.preview(body_of_call["person"], to, cause:)
        tasks = present.tasks(rows.map { |row| row[:task] })
        answer 200, {tasks:}
      end

      post "/pass-all" do
        may.lead!
        done, refused = team_work.pass_all(body_of_call["person"], to, cause:)
        answer 200, {tasks: present.tasks(done), refused:}
      end

      # Days away, which leads enter for their teams.
      get "/absences" do
        answer 200, {absences: present.absences(whose(params["person"])[:key])}
      end

      put "/absences" do
        one = whose(body_of_call["person"])
        Store::OwnChanges.new(root).save_absences(one[:key], body_of_call["absences"], cause:)
        root.forget
        answer 200, {absences: present.absences(one[:key])}
      end

      private

      def team_work = Store::TeamWork.new(root, sight)

      # @return [Hash] row of a person for whom whoever asks may enter days away
      def whose(key)
        may.lead!
        one = root.people.find(key) || raise(Store::NotFound, "There is no person #{key.inspect}.")
        return one if may.enter_absences?(one)

        raise Forbidden, "Days away are entered by leads of a team that somebody is in, and by administrators."
      end

      def to = body_of_call["to"].slice("assignee", "queue", "team", "team_way").transform_keys(&:to_sym)
    end
  end
end
