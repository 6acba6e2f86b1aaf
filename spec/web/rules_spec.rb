# frozen_string_literal: true

RSpec.describe "Rules over the API" do
  let(:rule) { {"format" => "yenvo-rule/1", "record" => "deal"}.merge(survey_rule) }
  let(:broken) { rule.merge("trigger" => {"when" => "stage_entered", "stages" => []}) }

  def made = @made ||= call(:post, "/api/rules", rule:)

  it "are drafted, checked, tried, published, paused and resumed by an administrator" do
    sign_in("maren")
    id = made["id"]
    expect(made).to include(
      "state" => "draft", "version" => nil, "sentence" => "Stage becomes Survey booked → Call about [deal]",
      "watches" => "Deal, change", "stamp" => 1
    )
    kept = call(:put, "/api/rules/#{id}/draft", rule: rule.merge("name" => "Better"), stamp: 1)
    expect(kept).to include("name" => "Better", "stamp" => 2)
    expect(call(:post, "/api/try/check", rule:)["problems"]).to eq([])
    expect(call(:post, "/api/try/check", rule: broken)["problems"]).to match(
      [hash_including("path" => %w[trigger stages], "text" => "must name at least one")]
    )
    deal = make("deal", "stage" => "survey_booked")["id"]
    expect(call(:post, "/api/try", rule:, rule_id: id)).to include("looked_at" => 1, "counts" => {"1" => 1})
    plan = call(:post, "/api/try/one", rule:, record_id: deal)
    expect(plan["tasks"].map { |task| [task["title"], task["to"], task["due"]["on"]] }).to eq(
      [["Call about Quiet Hour", "Hollie Banner", "2026-11-25"]]
    )
    expect(plan["strip"]).to include("today" => "2026-11-24", "days_off" => include("2026-11-28", "2026-11-29"))
    expect([db[:runs].count, db[:tasks].count]).to eq([0, 0])
    expect(call(:post, "/api/rules/#{id}/publish", rule:, stamp: 2)).to include(
      "state" => "on", "version" => 1, "draft" => nil, "versions" => [hash_including("number" => 1, "by" => "maren")]
    )
    expect(call(:post, "/api/rules/#{id}/pause")["state"]).to eq("paused")
    call(:post, "/api/rules/#{id}/pause")
    expect(status).to eq(422)
    expect(call(:post, "/api/rules/#{id}/resume")["state"]).to eq("on")
    expect(get_json("/api/rules/#{id}/versions/1")["rule"]).to eq(Yenvo::Core::RuleReader.read!(rule).to_h)
    changed = call(:put, "/api/rules/#{id}/draft", rule: rule.merge("how_often" => "once_per_visit"), stamp: 3)
    expect(changed).to include("changes" => 1, "draft" => hash_including("by" => "maren"))
    call(:delete, "/api/rules/#{id}/draft")
    expect(get_json("/api/rules/#{id}")).to include("draft" => nil)
  end

  it "are not published while the checks find something, and every problem is named" do
    sign_in("maren")
    refusal = call(:post, "/api/rules/#{made["id"]}/publish", rule: broken, stamp: 1)
    expect([status, refusal["problems"].map { |one| one["where"] }]).to eq([422, ["trigger.stages"]])
    refusal = call(:post, "/api/try", rule: broken)
    expect([status, refusal["problems"].size]).to eq([422, 1])
    refusal = call(:post, "/api/rules", rule: rule.merge("branches" => "none"))
    expect([status, refusal["error"]]).to match([400, /branches/])
  end

  it "tell the second of two writers" do
    sign_in("maren")
    call(:put, "/api/rules/#{made["id"]}/draft", rule: rule.merge("name" => "One"), stamp: 1)
    refusal = call(:put, "/api/rules/#{made["id"]}/draft", rule: rule.merge("name" => "Two"), stamp: 1)
    expect([status, refusal["stamp"]]).to eq([409, 2])
    call(:post, "/api/rules/#{made["id"]}/publish", rule:, stamp: 1)
    expect(status).to eq(409)
  end

  it "may be read but not written, tried or published by others" do
    sign_in("maren")
    id = made["id"]
    call(:post, "/api/rules/#{id}/publish", rule:)
    %w[hollie tobias].each do |who|
      sign_in(who)
      expect(get_json("/api/rules")["rules"].size).to eq(1)
      expect(get_json("/api/rules/#{id}")["rule"]).to include("name" => "Survey booked")
      {
        [:post, "/api/rules"] => {rule:},
        [:put, "/api/rules/#{id}/draft"] => {rule:}, [:delete, "/api/rules/#{id}/draft"] => nil,
        [:post, "/api/rules/#{id}/publish"] => {rule:},
        [:post, "/api/rules/#{id}/pause"] => nil, [:post, "/api/rules/#{id}/resume"] => nil,
        [:post, "/api/rule-files"] => {source: "x"}, [:post, "/api/try"] => {rule:},
        [:post, "/api/try/one"] => {rule:, record_id: 1}
      }.each do |(method, path), body|
        answer = call(method, path, body)
        expect([status, answer["error"]]).to match(
          [403, /Rules are written by administrators, and you are signed in as a (member|lead)/]
        ),
          "#{who} #{method} #{path}"
      end
    end
    expect(root.rules.find!(id)).to include(state: "on", draft: nil)
  end

  it "go out as a file and come in again, unchanged; a file that is wrong gets every line" do
    sign_in("maren")
    get "/api/rule-files/#{made["id"]}"
    expect(last_response["content-disposition"]).to include("survey-booked.yml")
    again = call(:post, "/api/rule-files", source: last_response.body)
    expect(again["rule"]).to eq(get_json("/api/rules/#{made["id"]}")["rule"])
    refusal =
      call(
        :post, "/api/rule-files",
        source: "format: yenvo-rule/1\nname: 3\nrecord: deal\ntrigger: {when: never}\nbranches: []\n"
      )
    expect(refusal["problems"].map { |one| one.values_at("line", "where") }).to eq([[2, "name"], [4, "trigger.when"]])
  end

  it "show live figures in their list" do
    publish(survey_rule)
    make("deal", "stage" => "survey_booked")
    work
    sign_in("hollie")
    expect(get_json("/api/rules")["rules"].first["figures"]).to include(
      "runs" => 1, "open" => 1, "done" => 0, "failed" => 0, "answered_in" => nil
    )
  end
end

RSpec.describe "The trail over the API" do
  it "shows runs with tests, actions and what they set off, and skips when asked for" do
    rule = publish(survey_rule("only_if" => {"all" => [{"field" => "value", "test" => "less", "value" => 100}]}))
    id = make("deal", "value" => 50)["id"]
    change(id, {"stage" => "survey_booked"}, at: Database::NOW + 1)
    change(id, {"stage" => "quoted"}, at: Database::NOW + 2)
    work(at: Database::NOW + 3)
    sign_in("hollie")
    page = get_json("/api/trail?record=#{id}&result=all&days=7")
    expect(page["runs"].map { |run| run.values_at("branches", "task_count", "state") }).to eq([[["1"], 1, "ran"]])
    expect(page["skips"].map { |skip| skip["why"] }).to eq(["Stage became Quoted", "Stage became Enquiry"])
    run = get_json("/api/runs/#{page["runs"][0]["id"]}")
    expect(run).to include(
      "event" => "Hollie Banner moved the deal from Enquiry to Survey booked", "milliseconds" => 2000,
      "tests" => [hash_including("label" => "Value", "phrase" => "is less than €100", "seen" => "€50", "met" => true)]
    )
    expect(run["actions"]).to match(
      [
        hash_including(
          "title" => "Call about Quiet Hour", "task" =>
            {"id" => Integer, "state" => "open"}.transform_values do |value|
              (value == Integer) ? kind_of(Integer) : value
            end
        )
      ]
    )
    expect(run["set_off"][0]["words"].filter_map { |piece| piece["strong"] }).to eq(["Call about Quiet Hour"])
    why = get_json("/api/trail/why-not?rule=#{rule[:id]}&entry=#{page["skips"][0]["entry"]}")
    expect(why).to include("in_force" => true, "ran" => false, "why" => "Stage became Quoted")
    expect(get_json("/api/trail?rule=#{rule[:id]}&result=skipped")["skips"].size).to eq(2)
    expect(get_json("/api/trail?result=failed")["runs"]).to eq([])
  end
end

RSpec.describe "Rules about tasks over the API" do
  let(:rule) do
    {
      "format" => "yenvo-rule/1", "record" => "task", "name" => "Hollie's tasks", "trigger" => {"when" => "task_made"},
      "only_if" => {"all" => [{"field" => "assignee", "test" => "is", "value" => "hollie"}]},
      "branches" => [{"do" => [{"action" => "tasks", "only" => "this", "priority" => "high"}]}]
    }
  end

  def task(**given) = call(:post, "/api/tasks", {title: "Ring back", assignee: "hollie", **given})

  it "are tried on tasks, published, and stand in the trail by the task where there is no record" do
    sign_in("maren")
    deal = make("deal")["id"]
    bare = task["id"]
    found = call(:post, "/api/try", rule:)
    expect(found).to include("looked_at" => 1, "rows" => [hash_including("id" => bare, "title" => "Ring back")])
    [{search: "Ring"}, {filters: {"assignee" => ["hollie"]}}].each do |filter|
      expect(call(:post, "/api/try", rule:, filter:).to_s).to match(/tried on the newest tasks. Leave out the filter/)
      expect(status).to eq(422)
    end
    plan = call(:post, "/api/try/one", rule:, record_id: bare)
    expect(plan["effects"].map { |effect| effect["title"] }).to eq(["This task: high priority"])
    id = call(:post, "/api/rules", rule:)["id"]
    expect(call(:post, "/api/rules/#{id}/publish", rule:, stamp: 1)).to include(
      "state" => "on", "watches" => "Task, new task", "by_hand" => false
    )
    task(title: "About none")
    task(title: "About a deal", record_id: deal)
    task(title: "Another's", assignee: "wen")
    work
    page = get_json("/api/trail?rule=#{id}&result=all&days=7")
    expect(page["runs"].map { |run| [run["task"], run.dig("record", "title")] }).to match_array(
      [["About none", nil], [nil, "Quiet Hour"]]
    )
    expect(page["skips"].map { |skip| skip.values_at("task", "why") }).to include(["Another's", "Assignee is Wen Zhao"])
    expect(get_json("/api/runs/#{page["runs"][0]["id"]}")["event"]).to match(/Maren Oduya made the task/)
  end

  it "leave what happened to a task about nothing where administrators see it, when it is set aside" do
    sign_in("maren")
    id = call(:post, "/api/rules", rule:)["id"]
    call(:post, "/api/rules/#{id}/publish", rule:, stamp: 1)
    task
    root.waiting.set_aside(db[:waiting].get(:entry_id), RuntimeError.new("broken"), now: Database::NOW)
    expect(get_json("/api/asides")["entries"]).to match(
      [hash_including("what" => "Task: task made", "record" => nil, "task" => "Ring back", "behind" => 0)]
    )
  end

  it "cannot be started on records, nor run on all that match, nor stand on what has no tasks" do
    sign_in("maren")
    id = call(:post, "/api/rules", rule:)["id"]
    call(:post, "/api/rules/#{id}/publish", rule:, stamp: 1)
    expect(call(:post, "/api/rules/#{id}/start", records: [make("deal")["id"]]).to_s).to match(/is about tasks/)
    expect(status).to eq(422)
    expect(call(:post, "/api/jobs", rule_id: id, total: 1).to_s).to match(/is about tasks/)
    expect(status).to eq(422)
    expect(call(:post, "/api/try/one", rule:, record_id: 999)["error"]).to match(/There is no task 999/)
    monthly = {"when" => "schedule", "recurs" => "FREQ=MONTHLY", "starts" => "2026-12-01", "at" => "08:00"}
    {
      rule.merge("trigger" => {"when" => "record_made"}) => "must be one of task_made",
      rule.merge("trigger" => monthly) => "must be one of task_made",
      rule.merge("how_often" => "once_per_record") => "must be every_time or once_per_task",
      rule.merge("run" => "before_save") => "must be after_save",
      rule.merge("record" => "record") => "must be one of contact, deal",
      rule.merge("branches" => [{"do" => [{"action" => "move", "to" => "lost"}]}]) => "a record that has stages"
    }.each do |wrong, sentence|
      said = call(:post, "/api/try/check", rule: wrong)["problems"]
      expect(said.map { |problem| problem["text"] }.join).to include(sentence)
    end
  end

  it "are not to be tried by others, who see what they do all the same" do
    sign_in("hollie")
    call(:post, "/api/try", rule:)
    expect(status).to eq(403)
    expect(get_json("/api/setup")["subjects"].map { |one| one["key"] }).to eq(%w[task record])
    call(:post, "/api/records", kind: "task", values: {title: "No record"})
    expect(status).to eq(404)
    expect(get_json("/api/records?kind=task")["error"]).to match(/no kind of record "task"/)
  end
end
