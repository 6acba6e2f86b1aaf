# frozen_string_literal: true

RSpec.describe "Leaving" do
  before { sign_in("maren") }

  def shown(person = "wen") = get_json("/api/setup/leaving?person=#{person}")
  def leave(person = "wen", **to) = call(:post, "/api/setup/leaving", person:, to:)
  def sentence = JSON.parse(last_response.body)["fields"].values.first
  def owners = db[:records].order(:id).select_map(:owner)
  def holders = db[:tasks].order(:id).select_map(%i[assignee queue])

  # Two deals of Wen's, one where Wen is the surveyor, three tasks, a rule, a kit and a preset.
  before do
    @deals = Array.new(2) { make("deal", "owner" => "wen")["id"] }
    @third = make("deal", "owner" => "osk", "surveyor" => "wen")["id"]
    [*@deals[0, 1], @third, nil].each { |record_id|
      call(:post, "/api/tasks", title: "Look", assignee: "wen", record_id:)
    }
    @rule = publish(survey_rule("name" => "Names Wen"))
    publish_demo_kit("11-rigging-job")
    db[:rules].update(owner: "wen")
    db[:kits].update(owner: "wen")
    root.presets.save(nil, {"name" => "Hello", "text" => "Hello there"}, cause: cause("wen"))
  end

  it "counts what there is, ends the account at once, and hands over by a job that stands in each history" do
    expect(shown["counts"]).to eq(
      "records" => 2, "fields" => 1, "tasks" => 3, "rules" => 1, "kits" => 1, "presets" => 1
    )
    sign_in("wen")
    wens = session_cookie
    sign_in("maren")
    db[:notices].delete
    begun = leave(
      records: {person: "osk"}, fields: {person: "callum"}, tasks: {owner: true}, rules: {person: "maren"},
      kits: {person: "maren"}, presets: {person: "hollie"}
    )
    expect(begun["job"]).to include("what" => "hand_over", "state" => "waiting", "total" => 9)
    expect(status_by(wens)).to eq(401)
    work
    expect(shown["counts"].values).to eq([0, 0, 1, 0, 0, 0])
    expect(shown["job"]).to include("state" => "done", "looked_at" => 9, "started" => 8)
    expect(owners).to eq(%w[osk osk osk])
    expect(root.records.images([@third])[@third]).to include("surveyor" => "callum")
    # A task about nothing has no owner to go to; leads see it.
    expect(holders).to eq([["osk", nil], ["osk", nil], ["wen", nil]])
    expect([db[:rules].get(:owner), db[:kits].get(:owner), db[:presets].get(:by)]).to eq(%w[maren maren hollie])
    expect(get_json("/api/records/#{@third}/history?before=99999999").to_s).to include("Maren Oduya", "Surveyor")
    expect(db[:notices].where(what: "given").order(:person).select_map(%i[person text])).to eq(
      [
        ["callum", "Wen Zhao has left. You were handed over: 1 place on a record."],
        ["hollie", "Wen Zhao has left. You were handed over: 1 preset."],
        ["osk", "Wen Zhao has left. You were handed over: 2 records, 2 tasks."]
      ]
    )
    told = get_json("/api/audit")["rows"].map { |row| row["words"] }
    expect(told).to include("changed Wen Zhao", "handed the rule “Names Wen” over to Maren Oduya")
    sign_in("tobias")
    expect(get_json("/api/team?by=person")["rows"].find { |row| row["key"] == "wen" }).to include("open" => 1)
  end

  it "is taken back within a week, but for what somebody has changed since" do
    leave(records: {person: "osk"}, fields: {person: "callum"}, tasks: {queue: "callbacks"}, rules: {person: "maren"})
    call(:post, "/api/setup/leaving/back", person: "wen")
    expect([status, sentence]).to match([422, /still under way/])
    work
    expect(holders.uniq).to eq([[nil, "callbacks"]])
    change(@deals[0], {"owner" => "hollie"})
    root.tasks.take(db[:tasks].order(:id).get(:id), cause: cause("hollie"))
    expect(shown["back_until"]).to eq(Yenvo::Core::Reading.moment(Database::NOW + (7 * 86_400)))
    call(:post, "/api/setup/leaving/back", person: "wen")
    expect(status).to eq(200)
    work
    expect(owners).to eq(%w[hollie wen osk])
    expect(root.records.images([@third])[@third]).to include("surveyor" => "wen")
    expect(holders.map(&:first)).to eq(%w[hollie wen wen])
    expect(db[:rules].get(:owner)).to eq("wen")
    expect(shown).to include("back_until" => nil)
    expect(db[:people].where(key: "wen").get(:active)).to be(true)
    call(:post, "/api/setup/leaving/back", person: "wen")
    expect([status, sentence]).to match([422, /no hand-over of the last seven days/])
    sign_in("wen")
    expect(status).to eq(200)
  end

  it "is taken back whole when it was done in several goes, and is one when two press at once" do
    leave(records: {person: "osk"})
    work
    leave(tasks: {queue: "callbacks"})
    leave
    work
    expect([owners, holders.map(&:last).uniq]).to eq([%w[osk osk osk], ["callbacks"]])
    call(:post, "/api/setup/leaving/back", person: "wen")
    expect(status).to eq(200)
    work
    expect([owners, holders.map(&:first).uniq]).to eq([%w[wen wen osk], ["wen"]])
    expect(shown["job"]).to include("what" => "hand_back", "started" => 5)
    leave(records: {person: "osk"})
    work
    call(:post, "/api/setup/leaving/back", person: "wen")
    expect(shown["job"]).to include("total" => 2)
  end

  it "cannot be taken back after a week" do
    leave(records: {person: "osk"})
    work
    db[:jobs].where(what: "hand_over").update(at: Database::NOW - (8 * 86_400))
    call(:post, "/api/setup/leaving/back", person: "wen")
    expect([status, owners]).to eq([422, %w[osk osk osk]])
  end

  it "goes on where it was, whatever dies when, a hundred at a time" do
    120.times { make("contact", "owner" => "wen") }
    leave(records: {person: "osk"})
    jobs = Yenvo::Engine::LongWork.new(root)
    2.times { jobs.take(now: Database::NOW) }
    expect(db[:jobs].where(what: "hand_over").get(:state)).to eq("running")
    work
    expect(db[:records].where(owner: "wen").count).to eq(0)
    expect(db[:handed_over].count).to eq(122)
  end

  it "refuses to whom nothing can go, and moves nothing then" do
    {
      {records: {person: "wen"}} => /somebody else than whoever leaves/, {records: {person: "ghost"}} => /is not here/,
      {tasks: {queue: "ghost"}} => /There is no queue/, {rules: {queue: "callbacks"}} => /Only tasks go to a queue/
    }.each do |to, words|
      leave(**to)
      expect([status, sentence]).to match([422, words])
    end
    expect([db[:people].where(key: "wen").get(:active), db[:jobs].where(what: "hand_over").count]).to eq([true, 0])
    leave("ghost")
    expect(status).to eq(404)
  end

  it "is not for the last administrator, nor for oneself" do
    leave("maren")
    expect([status, sentence]).to eq([422, "You cannot take away your own access."])
    db[:people].where(key: "osk").update(role: "administrator")
    changes = Yenvo::Store::SetupChanges.new(root)
    changes.leave("maren", cause: cause("osk"))
    refused = ->(attempt) do
      expect { db.transaction(savepoint: true) { attempt.call } }.to raise_error(/last administrator stays/)
    end
    refused.call(-> { changes.leave("osk", cause: cause("maren")) })
    osk = {"name" => "Osk", "email" => "osk@fennick.example", "role" => "member", "team" => nil}
    refused.call(-> { changes.person("osk", osk, cause: cause("maren")) })
    expect(db[:people].where(key: "osk").get(%i[role active])).to eq(["administrator", true])
  end

  it "is administrators' alone" do
    sign_in("tobias")
    leave
    expect(status).to eq(403)
    shown
    expect(status).to eq(403)
  end
end
