# frozen_string_literal: true

# Rules that run before the save: what they set, and how they stop it.
RSpec.describe "Before the save" do
  def image(id) = root.records.find!(id)
  def last_run = root.runs.find!(root.runs.list.first[:id])

  let(:made) { {"when" => "record_made"} }

  it "sets fields before the save, in the order of the list, each seeing the earlier, and says so" do
    minor = {"record" => "ticket", "run" => "before_save", "trigger" => made}
    publish(
      minor.merge(
        "name" => "Severity gives due",
        "branches" => [
          {
            "if" => {"all" => [{"field" => "severity", "test" => "is", "value" => "minor"}]},
            "do" => [
              {"action" => "set", "values" => [{"field" => "due", "date" => {"count" => 10, "unit" => "working_days"}}]}
            ]
          }
        ],
        "otherwise" => [
          {"action" => "set", "values" => [{"field" => "due", "date" => {"count" => 3, "unit" => "working_days"}}]}
        ]
      )
    )
    publish(
      minor.merge(
        "name" => "Soon goes to Wen",
        "only_if" => {
          "all" => [{"field" => "due", "test" => "within_next", "value" => {"count" => 3, "unit" => "working_days"}}]
        },
        "branches" => [{"do" => [{"action" => "assign", "assign" => {"to" => "person", "person" => "wen"}}]}]
      )
    )
    told = []
    unsafe = root.records.make("ticket", {"title" => "Hull", "severity" => "unsafe"}, cause:, told:)
    small = make("ticket", "severity" => "minor")
    expect([unsafe, small].map { |one| image(one["id"]).values_at("due", "owner") }).to eq(
      [%w[2026-11-27 wen], %w[2026-12-08 hollie]]
    )
    expect(told.map { |one| [one[:rule][:name], one[:words]] }).to eq(
      [["Severity gives due", ["Due is set to Fri 27 Nov 2026"]], ["Soon goes to Wen", ["Owner becomes Wen Zhao"]]]
    )
    expect(db[:journal].where(record_id: unsafe["id"]).count).to eq(1)
    expect(root.runs.list(record: unsafe["id"]).map { |run| run[:state] }).to eq(%w[ran ran])
    work
    expect(root.runs.list.size).to eq(3)
  end

  it "refuses the save, naming the rule, when a rule before it fails, and writes nothing" do
    publish(
      {
        "name" => "Doubles", "run" => "before_save", "trigger" => made,
        "branches" => [
          {"do" => [{"action" => "set", "values" => [{"field" => "title", "text" => "{{ record.survey_type }}"}]}]}
        ]
      }
    )
    expect(refused { make("deal") }["rule"]).to eq(
      "The rule “Doubles” stopped this save: Title takes a few words; it cannot be empty."
    )
    expect([db[:records].count, db[:runs].count, db[:journal].count]).to eq([0, 0, 0])
  end

  describe "a rule that stops the save" do
    before do
      publish(
        "name" => "Large deals need a surveyor", "run" => "before_save",
        "trigger" => {"when" => "record_changed"},
        "only_if" => {
          "all" => [
            {"field" => "value", "test" => "at_least", "value" => 50_000}, {"field" => "surveyor", "test" => "is_empty"}
          ]
        },
        "branches" => [
          {
            "do" => [
              {"action" => "refuse", "text" => "{{ record.title }} needs a surveyor.", "fields" => %w[value surveyor]}
            ]
          }
        ]
      )
    end

    it "does so on any of several triggers" do
      id = root.rules.all.last[:id]
      draft = root.rules.draft_of(root.rules.find!(id)).with(
        trigger: {"any" => [{"when" => "record_made"}, {"when" => "record_changed", "field" => "value"}]}
      )
      root.rules.publish(id, draft, cause: cause("maren"))
      deal = make("deal", "value" => 10)["id"]
      expect(refused { change(deal, {"value" => 60_000}) }.keys).to eq(%w[value surveyor])
      expect(refused { make("deal", "title" => "Large", "value" => 70_000) }.keys).to eq(%w[value surveyor])
      expect(change(deal, {"title" => "Quieter Hour"})).not_to be_nil
    end

    it "says its words at the fields it names, writes nothing, and lets all else pass" do
      deal = make("deal", "value" => 10)["id"]
      entries = db[:journal].count
      said = "Quiet Hour needs a surveyor."
      expect(refused { change(deal, {"value" => 60_000}) }).to eq("value" => said, "surveyor" => said)
      expect([image(deal)["value"], db[:journal].count, db[:runs].count]).to eq([10, entries, 0])
      change(deal, {"value" => 60_000, "surveyor" => "wen"})
      expect(image(deal)).to include("value" => 60_000, "surveyor" => "wen")
      expect(refused { change(deal, {"surveyor" => nil}) }.keys).to eq(%w[value surveyor])
    end

    it "fails the run of another rule whose change it stops, whole, and nothing of it is thought ahead" do
      rule(
        {"when" => "stage_entered", "stages" => ["accepted"]}, task("kept back"),
        {"action" => "set", "values" => [{"field" => "value", "value" => 70_000}]}
      )
      deal = make("deal")["id"]
      work
      ahead = Yenvo::Engine::LookingAhead.new(root, now: Database::NOW)
        .on(deal, days: 10, change: {"stage" => "accepted"}, who: "hollie")
      expect(ahead.items).to eq([])
      change(deal, {"stage" => "accepted"})
      work
      expect([titles, image(deal)["value"], last_run.values_at(:state, :why)]).to eq(
        [[], nil, ["failed", "Quiet Hour needs a surveyor."]]
      )
    end

    it "keeps a run from being taken back where it would stop that, which then says so and takes the rest back" do
      rule(
        {"when" => "stage_entered", "stages" => ["accepted"]}, task("Rig her"),
        {"action" => "set", "values" => [{"field" => "value", "value" => 5}]}
      )
      deal = make("deal", "value" => 60_000)["id"]
      change(deal, {"stage" => "accepted", "surveyor" => "wen"})
      work
      change(deal, {"surveyor" => nil}, at: Database::NOW + 60)
      items = root.undo.run([last_run], cause: cause("maren"))
      expect(items.map(&:why).compact).to eq(["Quiet Hour needs a surveyor."])
      expect([image(deal)["value"], db[:tasks].get(:state)]).to eq([5, "dropped"])
    end

    it "stands in order with those that set fields: it sees what the earlier set" do
      publish(
        "name" => "Wen surveys", "run" => "before_save", "trigger" => {"when" => "record_changed", "field" => "value"},
        "branches" => [
          {"do" => [{"action" => "set", "values" => [{"field" => "surveyor", "value" => "wen"}]}]}
        ]
      )
      root.rules.place(root.rules.by_name("Wen surveys")[:id], before: root.rules.all[0][:id], cause:)
      deal = make("deal")["id"]
      change(deal, {"value" => 60_000})
      expect(image(deal)).to include("value" => 60_000, "surveyor" => "wen")
    end
  end
end
