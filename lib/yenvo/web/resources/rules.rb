# frozen_string_literal: true

module Yenvo
  module Web
    # Rules: the list with its figures, drafts, versions.
    class Rules < Base
      get("/?") { answer 200, {rules: present.rules(root.rules.all, root.figures.of_rules(now:))} }

      post "/?" do
        may.write_rules!
        answer 201, present.rule(root.rules.make(read_rule, cause:))
      end

      get("/:id") { answer 200, present.rule(root.rules.find!(id)) }

      put "/:id/draft" do
        may.write_rules!
        answer 200, present.rule(root.rules.keep_draft(id, read_rule, stamp: body_of_call["stamp"], cause:))
      end

      delete "/:id/draft" do
        may.write_rules!
        root.rules.drop_draft(id)
        answer 200, {dropped: true}
      end

      post "/:id/publish" do
        may.write_rules!
        root.rules.publish(
          id, read_rule, stamp: body_of_call["stamp"], past: body_of_call["past"] || "skip", cause:
        )
        answer 200, present.rule(root.rules.find!(id))
      end

      post "/:id/pause" do
        may.write_rules!
        root.rules.pause(id, cause:)
        answer 200, present.rule(root.rules.find!(id))
      end

      post "/:id/resume" do
        may.write_rules!
        root.rules.resume(id, late: params["late"] == "yes", cause:)
        answer 200, present.rule(root.rules.find!(id))
      end

      post "/:id/start" do
        may.start_rules!
        body_of_call["records"].each { |record| sight.record!(record) }
        answer 200, {started: root.rules.start(id, body_of_call["records"], cause:)}
      end

      put "/:id/position" do
        may.write_rules!
        root.rules.place(id, before: body_of_call["before"], cause:)
        answer 200, {rules: present.rules(root.rules.all, root.figures.of_rules(now:))}
      end

      # Two versions beside each other; number 0 is the draft.
      get "/:id/compare/:one/:other" do
        row = root.rules.find!(id)
        one, other =
          %w[one other].map { |name| part(name).zero? ? root.rules.draft_of(row) : root.rules.version!(id, part(name)) }
        answer 200, {one: one.to_h, other: other.to_h, changes: Core::RuleChanges.words(one, other, root.schema)}
      end

      put "/:id/mark" do
        may.write_rules!
        root.rules.set_mark(id, body_of_call["mark"], body_of_call["ink"])
        answer 200, present.rule(root.rules.find!(id))
      end

      get("/:id/job") { answer 200, {job: root.jobs.latest(id)&.then { |row| present.job(row) }} }

      # What its timers will do: the next firings, those that came due while it was paused, and how far building them
      # is.
      get "/:id/timers" do
        job = root.jobs.latest(root.rules.find!(id)[:id], what: "timers")
        answer 200,
          {
            held: root.timers.held(id, now:),
            building: (job && Store::Jobs::UNDER_WAY.include?(job[:state])) ? present.job(job) : nil,
            next: present.firings(Engine::Forecast.new(root, now:).of_rule(id))
          }
      end

      get("/:id/versions/:number") { answer 200, {rule: root.rules.version!(id, part("number")).to_h} }

      private

      def read_rule = Core::RuleReader.read!(body_of_call["rule"])
    end
  end
end
