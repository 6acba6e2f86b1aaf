# frozen_string_literal: true

RSpec.describe Yenvo::Core::Matcher do
  it "finds exactly the rules that a look at every one finds, in their order", :slow do
    hits = 0
    for_many(60) do |chance|
      rules =
        Array.new(25) { |i| Yenvo::Core::CompiledRule.bind(chance.rule.with(name: "r"), a_schema, id: i)[0] }.compact
      matcher = described_class.new(rules)
      5.times do
        facts = chance.facts
        slow = rules.select { |rule| rule.plan(facts, now: Builders::NOON) { false }.run? }
        hits += slow.size
        expect(matcher.hits(facts).map(&:id)).to eq(slow.map(&:id))
        expect(slow - matcher.watching(facts.event)).to be_empty
      end
    end
    expect(hits).to be > 120
  end

  it "finds a rule that watches one of several choices" do
    trigger = {"when" => "record_changed", "field" => "extras", "to" => ["mast"]}
    rule = compiled(a_rule(trigger:), id: 4)
    matcher = described_class.new([rule])
    seen = facts(before: {"extras" => ["engine"]}, after: {"extras" => %w[engine mast]})
    expect(matcher.hits(seen)).to eq([rule])
    expect(matcher.hits(facts(before: {"extras" => ["mast"]}, after: {"extras" => ["engine"]}))).to eq([])
    expect(rule.trigger.imagine("extras" => %w[engine mast])).to eq(
      [{"extras" => nil}, {"extras" => %w[engine mast]}]
    )
  end

  it "finds a rule of several triggers once, however many of them an event is" do
    watch = {"any" => %w[value surveyor survey_type].map { |field| {"when" => "record_changed", "field" => field} }}
    rules = Array.new(3) { |i| compiled(a_rule(trigger: watch), id: i) }
    matcher = described_class.new(rules)
    all = facts(before: {"value" => 1}, after: {"value" => 2, "surveyor" => "wen", "survey_type" => "damage"})
    expect(matcher.hits(all)).to eq(rules)
    expect(matcher.hits(facts(before: {"deposit" => 1}, after: {"deposit" => 2}))).to eq([])
  end

  it "does not go through rules that are pinned to other values" do
    watch = {"when" => "record_changed", "field" => "value"}
    rules =
      %w[insurance damage].product([*1..50])
        .map do |type, i|
          compiled(
            a_rule(
              trigger: watch, only_if: all_of(a_condition("survey_type", "is", type)),
              branches: [a_branch(a_condition("value", "more", i))]
            ),
            id: i
          )
        end
    matcher = described_class.new(rules)
    event = ->(type) { facts(before: {"value" => 1}, after: {"value" => 0, "survey_type" => type}).event }
    expect(matcher.candidates(event.call("damage")).size).to eq(50)
    expect(matcher.candidates(event.call("pre_purchase"))).to be_empty
  end
end

RSpec.describe Yenvo::Core::CompiledRule do
  it "agrees with its own explanation about which branches run" do
    for_many(300) do |chance|
      rule, problems = Yenvo::Core::CompiledRule.bind(chance.rule, a_schema, id: 9)
      expect(problems).to be_empty
      facts = chance.facts
      plan = rule.plan(facts, now: Builders::NOON) { false }
      stopped = %i[own_event chain].include?(plan.code)
      expect(plan.branches).to eq((rule.hit(facts) || []).map { |i| rule.label(i) }) unless stopped
      expect(plan.why).not_to be_empty
    end
  end
end
