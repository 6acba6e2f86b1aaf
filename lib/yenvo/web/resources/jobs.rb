# frozen_string_literal: true

module Yenvo
  module Web
    # Running a rule on all records that match now: counted first, then done by a worker, with progress.
    class Jobs < Base
      post "/?" do
        may.write_rules!
        rule = root.rules.find!(body_of_call["rule_id"])
        answer 201,
          present.job(
            root.jobs.start(
              rule, total: body_of_call["total"], filter: RecordQuery.filter(body_of_call["filter"]), cause:
            )
          )
      end

      get("/:id") { answer 200, present.job(root.jobs.find!(id)) }

      post "/:id/stop" do
        may.write_rules!
        answer 200, present.job(root.jobs.stop(id, now:))
      end
    end
  end
end
