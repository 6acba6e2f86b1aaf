# frozen_string_literal: true

RSpec.describe "Yenvo::Engine::Trying" do
  def compiled(id: nil, **changes)
    rule = Yenvo::Core::RuleReader.read!({"format" => "yenvo-rule/1", "record" => "deal"}.merge(survey_rule(**changes)))
    Yenvo::Core::CompiledRule.bind!(rule, root.schema, id:)
  end

  def trying(rule) = Yenvo::Engine::Trying.new(root, rule, who: "maren", now: Database::NOW)

  let(:two_branches) do
    {
      "branches" => [
        {
          "if" => {"all" => [{"field" => "boat_length", "test" => "at_least", "value" => 12}]},
          "do" => survey_rule["branches"][0]["do"]
        }
      ],
      "otherwise" => survey_rule["branches"][0]["do"]
    }
  end

  before do
    {"Tern" => 13.4, "Hour" => 9.1, "Sallow" => nil}.each_with_index do |(title, length), i|
      make(
        "deal", {"title" => title, "stage" => "survey_booked", "boat_length" => length}.compact, at: Database::NOW + i
      )
    end
    make("deal", "title" => "Elsewhere", "stage" => "quoted")
    work
  end

  it "thinks up for each record the event of those triggers on which the rule would run" do
    worth = {"when" => "record_changed", "field" => "boat_length"}
    asks = {
      "all" => [
        {"field" => "boat_length", "test" => "changed"}, {"field" => "boat_length", "test" => "more", "value" => 10}
      ]
    }
    found = trying(compiled("trigger" => {"any" => [{"when" => "record_made"}, worth]}, "only_if" => asks)).over
    expect(found.counts).to eq("1" => 1, "skip" => 3)
    expect(found.rows.find { |row| row["title"] == "Tern" }["branches"]).to eq(["1"])
  end

  it "says for each record the trigger could meet which branch it hits and why, newest first" do
    found = trying(compiled(**two_branches)).over
    expect(found).to have_attributes(looked_at: 3, counts: {"1" => 1, "otherwise" => 2}, rest: nil)
    expect(found.rows.map { |row| row.values_at("title", "branches", "why") }).to eq(
      [
        ["Sallow", ["otherwise"], "Boat length is empty"], ["Hour", ["otherwise"], "Boat length is 9.1 m"],
        ["Tern", ["1"], "Boat length 13.4 m"]
      ]
    )
    expect(trying(compiled(**two_branches)).over(show: "1").rows.map { |row| row["title"] }).to eq(["Tern"])
  end

  it "says what one record would get, with the dates" do
    id = root.lists.find("tern").first[:id]
    _, plan = trying(compiled(**two_branches)).one(id)
    expect(plan.tasks.map { |_, _, task| [task.title, task.due.on.iso8601, task.reason] }).to eq(
      [["Call about Tern", "2026-11-25", "to Hollie Banner, the deal owner"]]
    )
    elsewhere = root.lists.find("elsewhere").first[:id]
    expect(trying(compiled).one(elsewhere)).to be_nil
  end

  it "knows where the rule has run already" do
    rule = publish(survey_rule("how_often" => "once_per_record"))
    make("deal", "title" => "Fresh", "stage" => "survey_booked", "owner" => "osk", "boat_length" => 20)
    work
    found = trying(compiled(:id => rule[:id], "how_often" => "once_per_record")).over
    expect(found.counts).to eq("1" => 3, "skip" => 1)
    expect(found.rows.find { |row| row["title"] == "Fresh" }["why"]).to eq("Already ran for this deal")
  end

  it "says which record a text fails on, instead of failing as a whole" do
    rule =
      compiled(
        "branches" => [
          {
            "do" => [
              {
                "action" => "record", "kind" => "ticket",
                "values" => [{"field" => "title", "text" => "{{ record.survey_type }}"}]
              }
            ]
          }
        ]
      )
    expect(trying(rule).over.rows.map { |row| row.values_at("failed", "why") }.uniq).to match(
      [[true, /title of the new ticket comes out empty/]]
    )
  end

  it "thinks of somebody who may type a code, and of what came in by a door" do
    make("deal", "surveyor" => "ines")
    code = compiled("trigger" => {"when" => "code", "code" => "!haul", "roles" => ["surveyor"]})
    expect(trying(code).over.counts["1"]).to eq(1)
    expect(trying(code).one(db[:records].max(:id))[0].event.who).to eq("ines")
    %w[form_sent message_in linked interaction_logged].each do |name|
      expect(trying(compiled("trigger" => {"when" => name})).over.counts.keys).to eq(["1"]), name
    end
  end

  it "writes nothing" do
    tables = %i[records journal waiting runs tasks rules epochs]
    before = tables.to_h { |table| [table, db[table].count] }
    trying(compiled).over
    trying(compiled).one(root.lists.find("tern").first[:id])
    expect(tables.to_h { |table| [table, db[table].count] }).to eq(before)
  end

  it "goes on where it stopped" do
    first = trying(compiled).over(most: 2)
    expect(first).to have_attributes(looked_at: 2)
    rest = trying(compiled).over(after: first.rest)
    expect((first.rows + rest.rows).map { |row| row["title"] }).to eq(%w[Sallow Hour Tern])
  end
end
