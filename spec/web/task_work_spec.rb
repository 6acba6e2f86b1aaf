# frozen_string_literal: true

RSpec.describe "Working tasks over the API" do
  def task(given = {}, who: "hollie", **values) =
    root.tasks.make({"title" => "Call Aldo", **given, **values}, cause: cause(who))

  before { sign_in("hollie") }

  it "says a date as it would be taken" do
    expect(get_json("/api/tasks/date-words?text=friday%209:00")).to eq(
      "due_on" => "2026-11-27", "due_at" => "09:00", "off" => nil
    )
    expect(get_json("/api/tasks/date-words?text=saturday")["off"]).to eq("Saturday")
    expect(get_json("/api/tasks/date-words?text=soon")["due_on"]).to be_nil
  end

  it "makes a task for several persons, one each, or none at all" do
    call(:post, "/api/tasks", title: "Sign the sheet", assignee: "hollie", also: %w[wen priya])
    expect(db[:tasks].order(:id).select_map(:assignee)).to eq(%w[hollie wen priya])
    call(:post, "/api/tasks", title: "Sign again", assignee: "hollie", also: %w[gone])
    expect([status, db[:tasks].count]).to eq([422, 3])
  end

  it "changes state, edits, gives back, takes back, comments" do
    id = task("queue" => "callbacks")[:id]
    expect(call(:post, "/api/tasks/#{id}/take")["assignee"]).to eq("hollie")
    expect(call(:post, "/api/tasks/#{id}/state", state: "started")["state"]).to eq("started")
    expect(call(:post, "/api/tasks/#{id}/edit", priority: "high", title: "Ring Aldo")).to include(
      "priority" => "high", "title" => "Ring Aldo"
    )
    expect(call(:post, "/api/tasks/#{id}/give-back")["assignee"]).to be_nil
    expect(call(:post, "/api/tasks/#{id}/take-back")["assignee"]).to eq("hollie")
    panel = call(:post, "/api/tasks/#{id}/comments", text: "Ask @wen")
    expect([status, panel["comments"].map { |one| one["text"] }]).to eq([201, ["Ask @wen"]])
    sign_in("wen")
    notice = get_json("/api/notices")["notices"][0]
    expect(notice).to include("task_id" => id, "text" => /Hollie Banner on “Ring Aldo”/.then { notice["text"] })
    expect(notice["text"]).to include("Ask @wen")
  end

  it "steps several at once, with the rights of each" do
    mine = task[:id]
    theirs = task({"assignee" => "ines"}, who: "ines")[:id]
    found = call(:post, "/api/tasks/several", ids: [mine, theirs], step: "put_off", due_on: "2026-12-01")
    expect(
      [found["tasks"].map { |one| one["due_on"] }, found["refused"].map { |one| one.values_at("id", "why") }]
    ).to eq([["2026-12-01"], [[theirs, "You may not work this task."]]])
    expect(
      call(:post, "/api/tasks/several", ids: [mine], step: "priority", priority: "low")["tasks"][0]["priority"]
    ).to eq("low")
    call(:post, "/api/tasks/several", ids: [], step: "done")
    expect(status).to eq(400)
  end

  it "takes files as they are, and gives them out to be kept" do
    Dir.mktmpdir do |folder|
      root.files = folder
      id = task[:id]
      header "X-CSRF-Token", get_json("/api/session")["csrf"]
      post "/api/tasks/#{id}/files?name=keys.txt",
        {}, {:input => "Under the mat", "CONTENT_TYPE" => "application/octet-stream"}
      file = JSON.parse(last_response.body)["files"][0]
      expect([status, file]).to match([201, hash_including("name" => "keys.txt", "size" => 13)])
      get "/api/tasks/files/#{file["id"]}"
      expect(
        [last_response.body, last_response.headers["content-disposition"], last_response.headers["content-type"]]
      ).to eq(["Under the mat", "attachment; filename*=UTF-8''keys.txt", "text/plain;charset=utf-8"])
      call(:delete, "/api/tasks/files/#{file["id"]}")
      expect(status).to eq(200)
      expect([get_json("/api/tasks/files/#{file["id"]}")["error"], status]).to eq(["There is no such file.", 404])
    end
  end

  it "gives the next from the queues of one's own team, and shows how they stand" do
    task("title" => "Theirs", "queue" => "yard_work")
    task("title" => "Mine", "queue" => "callbacks")
    expect(call(:post, "/api/queues/next", {})["task"]).to include("title" => "Mine", "assignee" => "hollie")
    expect(call(:post, "/api/queues/next", {})["task"]).to be_nil
    expect([call(:post, "/api/queues/next", queue: "yard_work")["error"], status]).to match(
      [/queues of your own team/, 403]
    )
    expect(get_json("/api/queues")["queues"].to_h { |one| one.values_at("key", "open") }).to include(
      "yard_work" => 1, "callbacks" => 0
    )
  end

  it "is for leads: the figures of the team, and passing on all of a person" do
    task("assignee" => "wen")
    expect([get_json("/api/team")["error"], status]).to match([/for leads and administrators/, 403])
    call(:post, "/api/team/pass-all", person: "wen", to: {assignee: "priya"})
    expect(status).to eq(403)
    sign_in("tobias")
    expect(get_json("/api/team?by=person")["rows"].find { |row| row["key"] == "wen" }).to include(
      "open" => 1, "name" => "Wen Zhao"
    )
    expect(get_json("/api/team?by=person")["away"].map { |one| one["person"] }).to include("callum")
    expect(
      call(:post, "/api/team/preview", person: "wen", to: {team: "yard_crew", team_way: "turns"})["tasks"].size
    ).to eq(1)
    expect(
      call(:post, "/api/team/pass-all", person: "wen", to: {queue: "yard_work"})["tasks"].map { |one| one["queue"] }
    ).to eq(["yard_work"])
  end

  it "keeps presets, changed by who wrote them" do
    id = call(:post, "/api/presets", name: "Keys", text: "Where are the keys?")["presets"][0]["id"]
    sign_in("wen")
    expect([call(:put, "/api/presets/#{id}", name: "Keys", text: "x")["error"], status]).to match([/who wrote it/, 403])
    sign_in("hollie")
    expect(call(:put, "/api/presets/#{id}", name: "Keys", text: "x")["presets"][0]["text"]).to eq("x")
    expect(call(:delete, "/api/presets/#{id}")["presets"]).to eq([])
  end

  it "shows what waits to be sent to whom it waits for, and to nobody else" do
    publish(
      {
        "trigger" => {"when" => "record_made"},
        "branches" => [
          {
            "do" => [
              {
                "action" => "task", "title" => "Look at {{ record.title }}", "ask" => true,
                "assign" => {"to" => "person", "person" => "wen"}
              }
            ]
          }
        ]
      }
    )
    2.times { make("deal") }
    work
    one, other = get_json("/api/proposals")["proposals"]
    expect(one).to include(
      "task" => hash_including("title" => "Look at Quiet Hour", "assignee" => "wen"),
      "record" => hash_including("title" => "Quiet Hour")
    )
    expect(call(:post, "/api/proposals/#{one["id"]}/send", task: {due_on: "2026-12-01"})).to include(
      "due_on" => "2026-12-01", "rule" => hash_including("name" => "A rule")
    )
    call(:post, "/api/proposals/#{other["id"]}/throw")
    expect(get_json("/api/proposals")["proposals"]).to eq([])
    sign_in("wen")
    call(:post, "/api/proposals/#{other["id"]}/send", task: {})
    expect(status).to eq(404)
  end

  it "searches all tasks, and stands marks beside them" do
    rule =
      publish(
        {
          "trigger" => {"when" => "record_made"},
          "branches" => [
            {"do" => [{"action" => "task", "title" => "Inspect", "assign" => {"to" => "person", "person" => "wen"}}]}
          ]
        }
      )
    make("deal")
    work
    sign_in("maren")
    expect(
      [
        call(:put, "/api/rules/#{rule[:id]}/mark", mark: "IN", ink: "plum")["mark"],
        call(:put, "/api/rules/#{rule[:id]}/mark", mark: "TOO", ink: "plum")["fields"].keys
      ]
    ).to eq([{"letters" => "IN", "ink" => "plum"}, ["mark"]])
    sign_in("hollie")
    found = get_json("/api/worklist?who=all&rule=#{rule[:id]}&kind=deal&state=open&priority=normal&due=none")["tasks"]
    expect(found.map { |one| one.values_at("title", "mark") }).to eq(
      [["Inspect", {"letters" => "IN", "ink" => "plum"}]]
    )
    expect(get_json("/api/worklist?who=wen&state=dropped")["tasks"]).to eq([])
    expect(get_json("/api/worklist/counts")).to eq(get_json("/api/worklist")["counts"])
  end
end

RSpec.describe "Kits over the API" do
  let(:plain) { Builders.launch_kit(target: "launch_date", queue: "yard_work") }

  before { sign_in("maren") }

  def published
    made = call(:post, "/api/kits", kit: plain)
    call(:post, "/api/kits/#{made["id"]}/publish", kit: plain, stamp: made["stamp"])
  end

  it "are drafted, checked, tried, published and listed" do
    made = call(:post, "/api/kits", kit: plain)
    expect([status, made.slice("state", "version", "task_count", "dates")]).to eq(
      [201, {"state" => "draft", "version" => nil, "task_count" => 8, "dates" => "back from Launch date"}]
    )
    expect(call(:post, "/api/kits/check", kit: plain)["notes"].map { |note| note["kind"] }).to eq(["open"])
    kept = call(:put, "/api/kits/#{made["id"]}/draft", kit: plain.merge("name" => "Launching"), stamp: made["stamp"])
    expect(kept["name"]).to eq("Launching")
    expect([call(:put, "/api/kits/#{made["id"]}/draft", kit: plain, stamp: made["stamp"])["error"], status]).to match(
      [/changed this kit while you were writing/, 409]
    )
    deal = make("deal", "launch_date" => "2026-12-14")["id"]
    tried = call(:post, "/api/kits/try", kit: plain, record_id: deal)
    expect(tried["tasks"].map { |one| one.values_at("number", "past") }.first(2)).to eq([[1, true], [2, true]])
    expect(tried).to include("anchor" => {"label" => "Launch date", "on" => "2026-12-14"}, "missing" => nil)
    expect(call(:post, "/api/kits/try", kit: plain, record_id: make("deal")["id"])["missing"]).to match(
      /Launch date is empty/
    )
    expect(call(:post, "/api/kits/ahead", kit: plain)).to eq(
      "records" => 1,
      "tasks" => [
        {"number" => 1, "title" => "Book a hoist slot for {{ record.title }}", "count" => 1, "example" => "Quiet Hour"},
        {"number" => 2, "title" => "Look over the hull", "count" => 1, "example" => "Quiet Hour"}
      ]
    )
    whole = call(:post, "/api/kits/#{made["id"]}/publish", kit: plain, stamp: kept["stamp"])
    expect(whole).to include("state" => "on", "version" => 1, "draft" => nil)
    expect(get_json("/api/kits")["kits"].map { |one| one.values_at("name", "state", "running") }).to eq(
      [["Launch", "on", 0]]
    )
    expect(get_json("/api/setup")["kits"].map { |one| one["key"] }).to eq([whole["key"]])
  end

  it "make a draft rule that uses them, with the trigger still blank" do
    whole = published
    rule = call(:post, "/api/kits/#{whole["id"]}/rule")
    expect(rule["rule"]).to include(
      "trigger" => {"when" => "stage_entered", "stages" => []},
      "branches" => [{"if" => {"all" => []}, "do" => [{"action" => "kit", "kit" => whole["key"]}]}]
    )
    refused = call(:post, "/api/rules/#{rule["id"]}/publish", rule: rule["rule"], stamp: rule["stamp"])
    expect([status, refused["problems"].map { |one| one["where"] }]).to eq([422, ["trigger.stages"]])
    expect(get_json("/api/kits/#{whole["id"]}")["used_by"]).to eq(
      [{"what" => "rule", "id" => rule["id"], "name" => "Use Launch", "state" => "draft"}]
    )
  end

  it "are used on a record by anybody, and show where each copy stands; only who began it or a lead changes it" do
    whole = published
    deal = make("deal", "launch_date" => "2027-01-18", "surveyor" => "ines")["id"]
    sign_in("hollie")
    copy = call(:post, "/api/copies", kit_id: whole["id"], record_id: deal)
    expect(copy).to include("state" => "running", "done" => 0, "all" => 8, "version" => 1)
    expect(copy["tasks"].map { |one| one["state"] }).to eq(
      %w[open open waiting waiting waiting waiting waiting waiting]
    )
    expect([call(:post, "/api/copies", kit_id: whole["id"], record_id: deal)["error"], status]).to match(
      [/in use on “Quiet Hour” already/, 422]
    )
    hull = db[:tasks].where(kit_task: "hull").get(:id)
    expect(get_json("/api/tasks/#{hull}")).to include(
      "why" => nil, "why_kit" =>
        hash_including(
          "kit" => "Launch", "version" => 1, "number" => 2, "comes" => "at the start",
          "next" => include({"title" => "Antifoul", "comes" => "after 2, if Sound; after 4, if Yes"})
        )
    )
    sign_in("wen")
    expect([call(:post, "/api/copies/#{copy["id"]}/skip", task: "hoist")["error"], status]).to match(
      [/who began it, or by a lead/, 403]
    )
    sign_in("maren")
    expect(call(:post, "/api/copies/#{copy["id"]}/skip", task: "hoist")["tasks"][0]).to include(
      "state" => "over", "task" => hash_including("state" => "dropped")
    )
    call(
      :post, "/api/kits/#{whole["id"]}/publish", kit: plain.merge("day_off" => "stays"),
      stamp: get_json("/api/kits/#{whole["id"]}")["stamp"]
    )
    expect(get_json("/api/copies/#{copy["id"]}/move/2")).to include(
      "stay" => ["Look over the hull"], "go" => [], "come" => []
    )
    expect(call(:post, "/api/copies/#{copy["id"]}/move", version: 2)).to include("version" => 2, "newest" => 2)
    expect(get_json("/api/kits/#{whole["id"]}/copies")["copies"].map { |one| one["record"]["title"] }).to eq(
      ["Quiet Hour"]
    )
    change(deal, {"launch_date" => "2027-02-01"})
    work
    trail = get_json("/api/trail?record=#{deal}")["kits"]
    expect(trail.map { |one| one["words"] }).to eq(
      [
        "Launch date moved: 1 open task of Launch has another date",
        "By version 2 of the kit: 1 open task of Launch has another date", "Goes on by version 2: the kit Launch",
        "Skipped in the kit Launch: Book a hoist slot for Quiet Hour", "Begun: the kit Launch"
      ]
    )
    expect(trail[0]["lines"]).to eq(["Look over the hull: Mon 28 Dec 2026 becomes Mon 11 Jan 2027"])
    expect(call(:post, "/api/copies/#{copy["id"]}/stop")["state"]).to eq("stopped")
    expect(get_json("/api/copies?record=#{deal}")["copies"].size).to eq(1)
    expect(get_json("/api/kits/#{whole["id"]}/versions/1")["kit"]["name"]).to eq("Launch")
  end

  it "are written by administrators alone, and never fail on what is sent" do
    whole = published
    sign_in("hollie")
    [
      [:post, "/api/kits", {kit: plain}], [:put, "/api/kits/#{whole["id"]}/draft", {kit: plain, stamp: 1}],
      [:delete, "/api/kits/#{whole["id"]}/draft", nil],
      [:post, "/api/kits/#{whole["id"]}/publish", {kit: plain, stamp: 1}],
      [:post, "/api/kits/#{whole["id"]}/retire", {retired: true}],
      [:put, "/api/kits/#{whole["id"]}/mark", {mark: "LA", ink: "sea"}], [:post, "/api/kits/#{whole["id"]}/rule", nil],
      [:post, "/api/kits/try", {kit: plain, record_id: 1}]
    ].each do |method, path, body|
      expect([call(method, path, body)["error"], status]).to match([/written by administrators/, 403])
    end
    sign_in("maren")
    broken =
      plain.merge(
        "phases" => [
          {
            "name" => "x",
            "tasks" => [
              {"key" => "A B", "title" => "x"},
              {
                "key" => "a", "title" => "{{ x", "after" => [[{"task" => "nope"}]],
                "due" => {"count" => -1, "unit" => "moons"}
              }
            ]
          }
        ]
      )
    answer = call(:post, "/api/kits/check", kit: broken)
    expect([status, answer["problems"].map { |one| one["where"] }]).to match([422, include("phases[1].tasks[1].key")])
    expect(call(:put, "/api/kits/#{whole["id"]}/mark", mark: "LA", ink: "sea")["mark"]).to eq(
      "letters" => "LA", "ink" => "sea"
    )
    expect(call(:post, "/api/kits/#{whole["id"]}/retire", retired: true)["state"]).to eq("retired")
  end
end
