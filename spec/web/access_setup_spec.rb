# frozen_string_literal: true

RSpec.describe "Access, as administrators set it" do
  def open = {seen_by: "everyone", changed_by: "everyone", taken_away_by: "owner", kept: []}

  def put_access(kind = "deal", headers: {}, **given)
    headers.each { |name, value| header(name, value) }
    call(:put, "/api/setup/access", kind:, access: open.merge(given))
  ensure
    headers.each_key { |name| header(name, nil) }
  end

  def let_see(level, **more) = put_access(seen_by: level, changed_by: level, taken_away_by: level, **more)
  def kind(key) = get_json("/api/setup")["kinds"].find { |one| one["key"] == key }
  def sentence = JSON.parse(last_response.body)["fields"].values.first
  def deal(owner, **values) = make("deal", {"owner" => owner, **values})["id"]

  before { sign_in("maren") }

  it "is said per kind, stands in the set-up and in the audit" do
    let_see("team", kept: %w[value])
    expect(status).to eq(200)
    expect(kind("deal")).to include("seen_by" => "team", "changed_by" => "team", "taken_away_by" => "team")
    row = db[:audit].where(what: "access").exclude(words: nil).order(:id).all
    told = row.map { |one| [one[:words], JSON.parse(one[:changes])] }.to_h
    expect(told["changed the records Deals"]).to include(
      {"label" => "seen by", "before" => "everyone", "after" => "team"}
    )
    expect(told["changed the field Value of Deals"]).to eq([{"label" => "kept", "before" => "no", "after" => "yes"}])
    sign_in("hollie")
    expect(kind("deal")["fields"].map { |field| field["key"] }).not_to include("value")
    put_access
    expect(status).to eq(403)
  end

  it "refuses what does not hold together, in words" do
    put_access(seen_by: "team")
    expect(sentence).to eq("Whoever changes deals has to see them, and they are seen by the owner's team.")
    put_access(kept: %w[nothing])
    expect(sentence).to eq('Deals have no field "nothing".')
    put_access(kept: %w[title])
    expect(sentence).to eq("Title is built in and stays in sight.")
    put_access("entry/launch_roster", kept: %w[about])
    expect(sentence).to match(/is built in and stays in sight/)
    put_access("nothing")
    expect(status).to eq(404)
    put_access(kept: %w[deposit])
    field = {label: "Deposit", type: "money", required: true, anyway: true}
    call(:put, "/api/setup/fields", kind: "deal", key: "deposit", field:)
    expect(sentence).to match(/\ADeposit has to be filled in, so it cannot be kept/)
    put_access
    call(:put, "/api/setup/fields", kind: "deal", key: "deposit", field:)
    put_access(kept: %w[deposit])
    expect(sentence).to match(/\ADeposit has to be filled in, so it cannot be kept/)
  end

  it "tells the second of two administrators, who lose nothing" do
    seen = get_json("/api/setup")["stamp"].to_s
    let_see("owner", headers: {"X-Seen-Setup" => seen})
    put_access(headers: {"X-Seen-Setup" => seen})
    expect([status, JSON.parse(last_response.body)["error"]]).to match([409, /Maren Oduya has changed the same/])
    expect(kind("deal")["seen_by"]).to eq("owner")
  end

  it "counts what each would see, and the tasks that would be out of sight, before anything is written" do
    2.times { deal("hollie") }
    id = deal("tobias")
    root.tasks.make({"title" => "Ring", "record_id" => id, "assignee" => "osk"}, cause:)
    found = call(:post, "/api/setup/access/preview", kind: "deal",
      access: open.merge(seen_by: "team", changed_by: "team", taken_away_by: "team"))
    sees = found["persons"].to_h { |one| one.values_at("person", "sees") }
    expect([found["all"], sees.slice("maren", "hollie", "osk", "tobias", "wen", "callum"), found["tasks"]]).to eq(
      [3, {"maren" => 3, "hollie" => 2, "osk" => 2, "tobias" => 1, "wen" => 1, "callum" => 0}, 1]
    )
    expect(kind("deal")["seen_by"]).to eq("everyone")
  end

  describe "where the owner's team sees deals" do
    let(:mine) { deal("hollie", "title" => "Ours") }
    let(:theirs) { deal("tobias", "title" => "Theirs") }

    before do
      mine && theirs
      let_see("team")
    end

    it "gives a task by hand only to somebody who sees what it is about" do
      call(:post, "/api/tasks", title: "Ring", record_id: theirs, assignee: "osk")
      expect(sentence).to eq("Osk Lindahl may not see this deal; choose somebody who does.")
      task = call(:post, "/api/tasks", title: "Ring", record_id: theirs, assignee: "wen")
      call(:post, "/api/tasks/#{task["id"]}/pass-on", assignee: "osk")
      expect(sentence).to eq("Osk Lindahl may not see this deal; choose somebody who does.")
      call(:post, "/api/tasks/#{task["id"]}/pass-on", team: "front_office", team_way: "turns")
      expect([status, last_response.body]).to match([422, /may not see the deal/]).or match([200, /"assignee":"maren"/])
      sign_in("osk")
      call(:post, "/api/tasks", title: "Ring", record_id: theirs)
      expect(sentence).to eq("Record #{theirs} is gone; choose another or leave it out.")
    end

    it "takes from queues only what is seen, and counts only that" do
      root.tasks.make({"title" => "A", "record_id" => theirs, "queue" => "callbacks"}, cause:)
      root.tasks.make({"title" => "B", "record_id" => mine, "queue" => "callbacks"}, cause:)
      sign_in("osk")
      counted = get_json("/api/queues")["queues"].find { |one| one["key"] == "callbacks" }["open"]
      expect([counted, call(:post, "/api/queues/next", queue: "callbacks")["task"]["title"]]).to eq([1, "B"])
      expect(call(:post, "/api/queues/next", queue: "callbacks")["task"]).to be_nil
    end

    it "shows leads the tasks that are with somebody who does not see them any more" do
      root.tasks.make({"title" => "Ring", "record_id" => mine, "assignee" => "osk"}, cause:)
      change(mine, {"owner" => "wen"})
      sign_in("osk")
      expect(get_json("/api/worklist/counts")["open"]).to eq(0)
      sign_in("tobias")
      expect(get_json("/api/team")["out_of_sight"]).to eq([{"key" => "osk", "open" => 1}])
      expect(get_json("/api/worklist?who=osk")["tasks"].map { |task| task["title"] }).to eq(["Ring"])
    end

    it "does not let somebody lead a link to what they do not see, and leaves one that stands" do
      contact = make("contact", {"owner" => "tobias", "title" => "Aldo"})["id"]
      change(mine, {"boat_owner" => contact})
      put_access("contact", seen_by: "team", changed_by: "team")
      sign_in("osk")
      record = get_json("/api/records/#{mine}")["record"]
      expect([record["links"], record["shown"]["boat_owner"]]).to eq([{}, "a record that is gone"])
      call(:patch, "/api/records/#{mine}", values: {boat_owner: contact, title: "Ours still"},
        version: record["version"])
      expect([status, root.records.find!(mine).slice("title", "boat_owner")]).to eq(
        [200, {"title" => "Ours still", "boat_owner" => contact}]
      )
      call(:post, "/api/records", kind: "deal", values: {title: "Another", boat_owner: contact})
      expect(sentence).to eq("Owner of the boat takes a contact; record #{contact} is none.")
    end

    it "names no hidden record where two have changed the same link" do
      seen = make("contact", {"owner" => "hollie", "title" => "Brona"})["id"]
      hidden = make("contact", {"owner" => "tobias", "title" => "Aldo Ferrant"})["id"]
      put_access("contact", seen_by: "team", changed_by: "team")
      sign_in("osk")
      version = get_json("/api/records/#{mine}")["record"]["version"]
      change(mine, {"boat_owner" => hidden})
      clash = call(:patch, "/api/records/#{mine}", values: {boat_owner: seen}, version:)["conflicts"][0]
      expect([status, clash.slice("yours", "theirs")]).to eq(
        [409, {"yours" => "Brona", "theirs" => "record #{hidden}"}]
      )
    end

    it "holds for a record that changes hands while somebody writes" do
      sign_in("osk")
      seen = get_json("/api/records/#{mine}")["record"]
      change(mine, {"owner" => "tobias"})
      call(:patch, "/api/records/#{mine}", values: {title: "Late"}, version: seen["version"])
      expect([status, root.records.find!(mine)["title"]]).to eq([404, "Ours"])
    end

    it "leaves what was taken away in sight of those who saw it, and of whoever took it away" do
      entry = root.list_entries.put_on(theirs, "entry/launch_roster", cause: cause("tobias"))["id"]
      put_access("entry/launch_roster", seen_by: "owner", changed_by: "owner")
      root.list_entries.take_off(entry, cause: cause("tobias"))
      expect(%w[osk wen tobias maren].to_h { |who|
        [who, sign_in(who).get_json("/api/records/#{entry}/trash")["title"]]
      })
        .to eq("osk" => nil, "wen" => nil, "tobias" => "Theirs", "maren" => "Theirs")
    end
  end

  it "says what a rule set before the save, but for what is kept" do
    publish(
      "name" => "Priced", "run" => "before_save", "trigger" => {"when" => "record_made"},
      "branches" => [{
        "do" => [{
          "action" => "set", "values" => [
            {"field" => "value", "value" => 7351}, {"field" => "deposit", "value" => 100}
          ]
        }]
      }]
    )
    let_see("everyone", kept: %w[value])
    sign_in("osk")
    said = call(:post, "/api/records", kind: "deal", values: {title: "Priced"})
    expect(said["set_by"].map { |one| one["words"] }).to eq([[Yenvo::Core::Access::VEIL]])
    expect(last_response.body).not_to include("7,351")
    expect(get_json("/api/records/#{said["id"]}").to_s).not_to include("7,351")
    sign_in("tobias")
    expect(get_json("/api/records/#{said["id"]}").to_s).to include("7,351")
    sign_in("osk")
    rules = get_json("/api/rules")["rules"].find { |rule| rule["name"] == "Priced" }
    expect(rules["sentence"]).to include("Value")
  end

  it "lets rules pass over who may not see the record, and see everything themselves" do
    let_see("team")
    boat = deal("hollie")
    publish(
      "name" => "Two", "trigger" => {"when" => "stage_entered", "stages" => ["survey_booked"]},
      "branches" => [{
        "do" => [{
          "action" => "task", "title" => "Look", "assign" => {"to" => "person", "person" => "callum"},
          "fallback" => {"to" => "person", "person" => "osk"}
        }]
      }]
    )
    change(boat, {"stage" => "survey_booked"})
    work
    expect(db[:tasks].select_map(%i[title assignee])).to eq([%w[Look osk]])
    action = JSON.parse(db[:runs].get(:actions))[0]
    expect(action["reason"]).to eq("to Osk Lindahl, named in the rule; Callum Reyes may not see the deal")
  end
end
