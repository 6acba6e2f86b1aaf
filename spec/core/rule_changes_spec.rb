# frozen_string_literal: true

RSpec.describe Yenvo::Core::RuleChanges do
  def words(one, other) = described_class.words(one, other, a_schema).map { |line| "#{line["where"]}: #{line["text"]}" }

  let(:one) do
    a_rule(
      branches: [
        a_branch(a_condition("boat_length", "at_least", 12)),
        a_branch(a_condition("boat_length", "less", 12), run: [a_task(title: "Write")])
      ]
    )
  end

  it "has words for each way of how often, for several triggers, and for a rule about tasks" do
    often =
      Yenvo::Core::Rule::HOW_OFTEN.each_cons(2).map do |was, is|
        words(a_rule(how_often: was, every_days: 3), a_rule(how_often: is, every_days: 3))[0]
      end
    expect(often).to all(match(/\ARule: how often was (every time|once per \w+), is (once per \w+|at most once .*)\z/))
    any = {"any" => [{"when" => "record_made"}, {"when" => "record_changed", "field" => "value"}]}
    expect(words(a_rule, a_rule(trigger: any))).to eq(
      ["When: was Stage becomes Survey booked, is New deal, or Value changes"]
    )
    about = {kind: "task", trigger: {"when" => "task_made"}}
    asks = all_of(a_condition("about_deal.value", "more", 5))
    expect(words(a_rule, a_rule(**about))).to eq(
      ["Rule: record was deal, is task", "When: was Stage becomes Survey booked, is A task is made"]
    )
    asked = words(a_rule(**about), a_rule(**about, only_if: asks))
    expect(asked).to match([/Only if: asks now: Deal · Value .*more.*€5/])
  end

  it "says in words what changed, place by place" do
    other =
      a_rule(
        name: "Booked", how_often: "once_per_visit", trigger: {"when" => "stage_entered", "stages" => ["accepted"]},
        only_if: all_of(a_condition("survey_date", "is_filled_in")),
        branches: [
          a_branch(
            a_condition("boat_length", "at_least", 13),
            run: [
              a_task(
                due:
                  Yenvo::Core::DateRule.new(
                    count: 1, unit: "days", direction: "after", from: "event", at: nil, day_off: "later"
                  )
              ),
              doing("move", to: "accepted")
            ]
          ),
          one.branches[1]
        ],
        otherwise: [a_task]
      )
    expect(words(one, other)).to eq(
      [
        "Rule: name was Survey booked, is Booked", "Rule: how often was every time, is once per visit",
        "When: was Stage becomes Survey booked, is Stage becomes Accepted",
        "Only if: asks now: Survey date is filled in", "Branch 1: asks no more: Boat length is at least 12 m",
        "Branch 1: asks now: Boat length is at least 13 m",
        "Branch 1: Make a task: Call the owner: due was nothing, is count 1, unit days, direction after, from " \
        "event, day off later",
        "Branch 1: does now: Move to Accepted", "Otherwise: does now: Make a task: Call the owner"
      ]
    )
  end

  it "knows rows that came, went and moved" do
    expect(words(one, one)).to eq([])
    expect(words(one, one.with(branches: one.branches.reverse))).to eq(
      ["Branch 1: was branch 2", "Branch 2: was branch 1"]
    )
    expect(words(one, one.with(branches: [one.branches[1]]))).to eq(
      ["Branch 1: is gone: all of (Boat length is at least 12 m) → Make a task: Call the owner"]
    )
    expect(words(one.with(branches: [one.branches[1]]), one)).to eq(
      ["Branch 1: is new: all of (Boat length is at least 12 m) → Make a task: Call the owner"]
    )
  end

  it "has words for any two rules, also when fields are gone" do
    for_many(80) do |chance|
      lines = words(chance.rule, chance.rule.with(kind: chance.some(%w[deal contact gone])))
      expect(lines).to all(match(/\A[A-Z].*: .+/m))
    end
  end
end

RSpec.describe Yenvo::Core::Uses do
  it "finds all that a rule leans on" do
    rule =
      a_rule(
        trigger: {"when" => "record_changed", "field" => "survey_type", "to" => ["damage"]}, only_if:
          all_of(
            a_condition("boat_owner.country", "is", "france"),
            a_condition("= count(ticket.boat, severity = 'unsafe')", "more", 1), a_condition("owner", "is", "maren")
          ),
        branches: [
          a_branch(
            run: [
              a_task(title: "Call {{ record.boat_owner.phone }}"),
              doing("set", values: [set_to("value", "copy", "deposit")]),
              doing("list", put: "on", list: "launch_roster", section: "afloat"), doing("move", to: "accepted")
            ]
          )
        ]
      )
    expect(described_class.of(rule, a_schema)).to include(
      "kind deal", "field deal survey_type", "choice deal survey_type damage", "field deal boat_owner",
      "field contact country", "choice contact country france", "field ticket boat", "field ticket severity",
      "person maren", "field contact phone", "field deal value", "field deal deposit", "kind entry/launch_roster",
      "stage entry/launch_roster afloat", "stage deal accepted"
    )
    for_many(80) { |chance| expect(described_class.of(chance.rule, a_schema)).to include("kind deal") }
  end
end
