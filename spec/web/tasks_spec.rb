# frozen_string_literal: true

RSpec.describe "Tasks over the API" do
  def ruled_task
    publish(
      survey_rule(
        "branches" => [
          {
            "if" => {"all" => [{"field" => "boat_length", "test" => "less", "value" => 12}]},
            "do" => [
              {
                "action" => "task", "title" => "Call the owner", "assign" => {"to" => "owner"},
                "fallback" => {"to" => "queue", "queue" => "callbacks"},
                "due" => {"count" => 1, "unit" => "working_days", "at" => "09:00"}, "answers" => %w[Confirmed Silent]
              }
            ]
          }
        ]
      )
    )
    owner = make("contact", "title" => "Aldo Ferrant", "phone" => "+353 555 0147")["id"]
    make("deal", "stage" => "survey_booked", "boat_length" => 9.1, "boat_owner" => owner, "survey_date" => "2026-12-03")
    work
    db[:tasks].get(:id)
  end

  it "shows a task with the facts of its record and why it is here" do
    sign_in("hollie")
    panel = get_json("/api/tasks/#{ruled_task}")
    expect(panel["task"]).to include(
      "title" => "Call the owner", "group" => "week", "due_on" => "2026-11-25", "due_at" => "09:00", "may_work" => true,
      "record" => hash_including("hint" => "deal")
    )
    expect(panel["facts"].map { |fact| fact.values_at("label", "shown", "note") }).to include(
      ["Owner of the boat", "Aldo Ferrant", "+353 555 0147"], ["Survey date", "Thu 3 Dec 2026", "in 7 working days"],
      ["Boat length", "9.1 m", nil]
    )
    expect(panel["why"]).to include(
      "rule" => "Survey booked", "version" => 1, "branch" => "1", "reason" => "to Hollie Banner, the deal owner",
      "event" => "Hollie Banner made the deal",
      "tests" => [
        hash_including("label" => "Boat length", "phrase" => "is less than 12 m", "seen" => "9.1 m", "met" => true)
      ]
    )
  end

  it "is worked: done with an answer and a note, once" do
    id = ruled_task
    sign_in("hollie")
    expect([call(:post, "/api/tasks/#{id}/done", {})["fields"], status]).to eq(
      [{"answer" => "Choose how it went: Confirmed, Silent."}, 422]
    )
    done = call(:post, "/api/tasks/#{id}/done", answer: "Confirmed", note: "Keys on Friday.")
    expect(done).to include(
      "state" => "done", "answer" => "Confirmed", "note" => "Keys on Friday.", "done_by" => "hollie"
    )
    again = call(:post, "/api/tasks/#{id}/done", answer: "Confirmed")
    expect([status, again["error"]]).to match([409, /was done by Hollie Banner already/])
  end

  it "is put off, passed on, taken and dropped" do
    id = ruled_task
    sign_in("hollie")
    expect(call(:post, "/api/tasks/#{id}/put-off", due_on: "2026-12-01", due_at: "10:30")).to include(
      "due_on" => "2026-12-01", "due_at" => "10:30"
    )
    expect(call(:post, "/api/tasks/#{id}/put-off", due_on: "2026-02-31")["fields"].keys).to eq(["due_on"])
    expect(call(:post, "/api/tasks/#{id}/pass-on", queue: "callbacks")).to include(
      "assignee" => nil, "queue" => "callbacks"
    )
    expect(call(:post, "/api/tasks/#{id}/take")).to include("assignee" => "hollie")
    expect(call(:post, "/api/tasks/#{id}/drop", note: "Twice.")).to include("state" => "dropped")
  end

  it "stands in the worklists of its person and its queue, with their counts" do
    sign_in("hollie")
    made = call(:post, "/api/tasks", title: "Call Aldo", due_on: "2026-11-24", due_at: "09:00", priority: "urgent")
    expect([status, made["late"], made["group"]]).to eq([201, true, "late"])
    call(:post, "/api/tasks", title: "Sort", queue: "callbacks")
    mine = get_json("/api/worklist")
    expect([mine["tasks"].map { |task| task["title"] }, mine["counts"]]).to eq(
      [["Call Aldo"], {"open" => 1, "late" => 1}]
    )
    expect(mine["queues"].find { |queue| queue["key"] == "callbacks" }).to eq(
      "key" => "callbacks", "name" => "Callbacks", "open" => 1, "mine" => true
    )
    expect(get_json("/api/worklist?who=all&queue=callbacks")["tasks"].map { |task| task["title"] }).to eq(["Sort"])
    call(:post, "/api/tasks/#{made["id"]}/done", {})
    expect(get_json("/api/worklist?state=done")["tasks"].map { |task| task["title"] }).to eq(["Call Aldo"])
    expect(get_json("/api/worklist?who=all&after=x_y")["error"]).to match(/not one that Yenvo gave out/)
  end

  it "may be worked by its person, their team, who made it, leads and administrators, and nobody else" do
    sign_in("priya")
    id = call(:post, "/api/tasks", title: "Chase the deposit")["id"]
    {"wen" => 403, "hollie" => 403, "tobias" => 200, "maren" => 200, "priya" => 200}.each do |who, code|
      sign_in(who)
      answer = call(:post, "/api/tasks/#{id}/put-off", due_on: "2026-12-01")
      expect(status).to eq(code), who
      if code == 403
        expect(answer["error"]).to eq(
          "This task is Priya Nand's. They, their team or a lead can work it or pass it on."
        )
      end
    end
    sign_in("wen")
    expect(get_json("/api/tasks/#{id}")["task"]["may_work"]).to be(false)
    %w[done drop pass-on take].each do |step|
      call(:post, "/api/tasks/#{id}/#{step}", (step == "take") ? nil : {}) && expect(status).to(eq(403), step)
    end
  end
end
