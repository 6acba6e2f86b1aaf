# frozen_string_literal: true

RSpec.describe "Yenvo::Store::Rules" do
  let(:rule) { Yenvo::Core::RuleReader.read!({"format" => "yenvo-rule/1", "record" => "deal"}.merge(survey_rule)) }

  it "keeps a draft, and tells a second writer" do
    row = root.rules.make(rule, cause: cause("maren"))
    expect(row).to include(state: "draft", version_id: nil, key: "survey-booked", draft_stamp: 1)
    root.rules.keep_draft(row[:id], rule.with(name: "Survey booked, two"), stamp: 1, cause: cause("tobias"))
    expect { root.rules.keep_draft(row[:id], rule, stamp: 1, cause: cause("maren")) }.to raise_error(
      Yenvo::Store::Conflict, /Tobias Kell changed this rule while you were writing/
    )
    expect(root.rules.draft_of(root.rules.find!(row[:id])).name).to eq("Survey booked, two")
  end

  it "makes versions that never change, with who and when" do
    id = publish(survey_rule)[:id]
    root.rules.publish(id, rule.with(name: "Other"), cause: cause("maren", at: Database::NOW + 60))
    expect(root.rules.versions(id).map { |one| one.values_at(:number, :published_by, :published_at) }).to eq(
      [[2, "maren", Database::NOW + 60], [1, "maren", Database::NOW]]
    )
    expect([root.rules.version!(id, 1).name, root.rules.version!(id, 2).name]).to eq(["Survey booked", "Other"])
    expect { root.rules.version!(id, 3) }.to raise_error(Yenvo::Store::NotFound)
  end

  it "publishes only what the checks let through" do
    row = root.rules.make(rule, cause: cause("maren"))
    broken = rule.with(trigger: {"when" => "stage_entered", "stages" => ["sold"]})
    expect { root.rules.publish(row[:id], broken, cause: cause("maren")) }.to raise_error(Yenvo::Core::InvalidRule)
    expect(root.rules.find!(row[:id])[:state]).to eq("draft")
  end

  it "pauses and resumes, and refuses what makes no sense" do
    id = publish(survey_rule)[:id]
    expect { root.rules.resume(id, cause: cause("maren")) }.to raise_error(
      Yenvo::Store::Refused, /is not paused, so it cannot be resumed/
    )
    root.rules.pause(id, cause: cause("maren"))
    expect(root.in_force.book(root.epoch).rules).to be_empty
    root.rules.resume(id, cause: cause("maren"))
    expect(root.in_force.book(root.epoch).rules.map(&:number)).to eq([1])
  end

  it "throws a draft away, and a rule never published with it" do
    id = publish(survey_rule)[:id]
    root.rules.keep_draft(id, rule.with(name: "Other"), stamp: nil, cause: cause("maren"))
    root.rules.drop_draft(id)
    expect(root.rules.draft_of(root.rules.find!(id)).name).to eq("Survey booked")
    never = root.rules.make(rule, cause: cause("maren"))[:id]
    root.rules.drop_draft(never)
    expect { root.rules.find!(never) }.to raise_error(Yenvo::Store::NotFound)
  end

  it "gives rules of the same name different keys" do
    expect(Array.new(3) { root.rules.make(rule, cause: cause("maren"))[:key] }).to eq(
      %w[survey-booked survey-booked-2 survey-booked-3]
    )
  end

  it "counts runs per day, open and done tasks, and the median answer time" do
    id = publish(survey_rule)[:id]
    3.times do |i|
      make("deal", {"title" => "Boat #{i}", "stage" => "survey_booked"}, at: Database::NOW - (i * 86_400)) &&
        work(at: Database::NOW - (i * 86_400) + 1)
    end
    tasks = root.worklist.open(assignee: "hollie").sort_by { |task| task[:made_at] }
    root.tasks.finish(tasks[0][:id], cause: cause(at: Database::NOW))
    root.tasks.finish(tasks[1][:id], cause: cause(at: Database::NOW))
    figures = root.figures.of_rules(now: Database::NOW + 60)[id]
    expect(figures).to include(runs: 3, failed: 0, open: 1, done: 2)
    expect(figures[:days].last(3)).to eq([1, 1, 1])
    expect(figures[:median_minutes]).to eq(689.5)
  end
end
