# frozen_string_literal: true

RSpec.describe Yenvo::Core::Formula do
  let(:schema) { a_schema }
  let(:deal) { schema.kind("deal") }

  def work_out(source, after = {}, **given)
    problems = []
    formula = described_class.bind(source, deal, schema, problems:)
    raise problems.join if problems.any?

    facts = facts(after:, **given)
    formula.call(facts, facts.after)
  end

  def wrong(source, **given)
    problems = []
    described_class.bind(source, deal, schema, problems:, **given)
    problems.map(&:text).join
  end

  it "counts, compares and chooses" do
    expect(work_out("value * 0.1 + 2", {"value" => 100})).to eq(12)
    expect(
      work_out(
        "if(value > 10000 and survey_type = 'Insurance', 'big', 'small')",
        {"value" => 12_900, "survey_type" => "insurance"}
      )
    ).to eq("big")
    expect(work_out("round(value / 3, 2)", {"value" => 10})).to eq(3.33)
    expect(work_out("-(value - 3)", {"value" => 10})).to eq(-7)
    expect(work_out("min(value, 500) + max(1, 2)", {"value" => 900})).to eq(502)
    expect(work_out("title + ' of ' + survey_type", {"survey_type" => "damage"})).to eq("Quiet Hour of damage")
    expect(work_out("contains(title, 'QUIET')")).to be(true)
  end

  it "is empty where something it needs is empty, and where it divides by nothing" do
    expect(
      [
        work_out("value + 1"), work_out("value / boat_length", {"value" => 3, "boat_length" => 0}),
        work_out("1 / value"), work_out("days_between(seen_at, today)"), work_out("value % 0", {"value" => 4})
      ]
    ).to all(be_nil)
    expect(
      [
        work_out("value > 3"), work_out("value = 3"), work_out("value != 3"), work_out("or_else(value, 7)"),
        work_out("empty(value)")
      ]
    ).to eq([false, false, true, 7, true])
  end

  it "counts days, working days and hours, and moves dates" do
    dates = {"survey_date" => "2026-12-23", "seen_at" => "2026-11-20T12:00:00.000000Z"}
    expect(work_out("days_between(seen_at, today)", dates)).to eq(4)
    expect(work_out("working_days_between(seen_at, today)", dates)).to eq(2)
    expect(work_out("add_working_days(survey_date, 1)", dates)).to eq("2027-01-04")
    expect(work_out("survey_date - today", dates)).to eq(29)
    expect(work_out("survey_date + 10", dates)).to eq("2027-01-02")
    expect(work_out("add_months(survey_date, 2)", dates)).to eq("2027-02-23")
    expect(work_out("weekday(survey_date) + month(survey_date) * 100 + year(survey_date) * 10000", dates)).to eq(
      20_261_203
    )
  end

  it "goes over linked records, over those that lead here, and over tasks" do
    related = {
      [7, "ticket.boat"] => [
        {"stage" => "closed", "cost" => 10}, {"stage" => "reported", "cost" => 5.5, "due" => "2026-12-01"},
        {"stage" => "in_hand", "due" => "2026-11-01"}
      ],
      [7, "tasks"] => [{"open" => true, "late" => true}, {"open" => false}]
    }
    given = {after: {}, related:}
    expect(work_out("count(ticket.boat)", **given)).to eq(3)
    expect(work_out("count(ticket.boat, stage != 'Closed')", **given)).to eq(2)
    expect(work_out("sum(ticket.boat, cost)", **given)).to eq(15.5)
    expect(work_out("least(ticket.boat, due, stage != 'closed')", **given)).to eq("2026-11-01")
    expect(work_out("greatest(ticket.boat, cost)", **given)).to eq(10)
    expect(work_out("count(tasks, open and late)", **given)).to eq(1)
    expect(
      work_out("boat_owner.country = 'norway'", {"boat_owner" => 3}, linked: {3 => {"id" => 3, "country" => "norway"}})
    ).to be(true)
    expect(described_class.bind("count(ticket.boat)", deal, schema).needs).to eq(
      [Yenvo::Core::Need.new(chain: [], over: "ticket.boat")]
    )
  end

  it "is right on each day" do
    formula = schema.formula(deal, deal.field("days_quiet"))
    seen = facts(after: {"seen_at" => "2026-11-20T12:00:00.000000Z"})
    expect([seen, seen.on(Date.new(2026, 12, 1))].map { |one| formula.call(one, one.after) }).to eq([4, 11])
    expect([formula.day?, schema.formula(deal, deal.field("open_tickets")).day?]).to eq([true, false])
  end

  it "says when it is written what is wrong with it" do
    expect(wrong("valu * 2")).to match(/there is no "valu", the nearest is "value"/)
    expect(wrong("value + survey_date")).to match(/must add days to a date/)
    expect(wrong("value > 'x'")).to match(/two values of one type; a number and a text/)
    expect(wrong("survey_type = 'sail'")).to match(/must name a choice of Survey type/)
    expect(wrong("system('ls')")).to match(/must use known functions .* there is no "system"/)
    expect(wrong("round()")).to match(/must give round 1 to 2 values/)
    expect(wrong("count(deal.boat_owner)")).to match(/must name records that lead to a deal: tasks, ticket.boat/)
    expect(wrong("sum(ticket.boat, severity)")).to match(/must go over numbers/)
    expect(wrong("value * 2", type: "date")).to match(/must come to a date; this comes to a number/)
    expect(wrong("if(value, 1, 2)")).to match(/must have a yes no first in if/)
    expect(wrong("(value")).to match(/must be a whole formula/)
    expect(wrong("'open")).to match(/must be a whole formula/)
    expect(wrong("1 + " * 100 + "1")).to match(/at most 120 pieces/)
    expect(wrong("#{"(" * 50}1#{")" * 50}")).to eq("").or match(/nested/)
    expect(wrong("x" * 600)).to match(/at most 500 characters/)
    expect(wrong("")).to match(/something to work out/)
  end

  it "finds a worked-out field that leads back to itself, or too deep" do
    fields =
      [["a", "b + 1"], ["b", "a + 1"], *(1..7).map { |i| ["d#{i}", "d#{i + 1} + 1"] }, %w[d8 1]].map do |key, formula|
        field(key, key.upcase, "number", formula:)
      end
    kind =
      Yenvo::Core::Schema::Kind.new(
        key: "deal", label: "Deal", plural: "Deals", stage_label: "Stage", stages: [], fields:
      )
    other = Yenvo::Core::Schema.new(kinds: [kind])
    expect(other.formula_problems(kind, kind.field("a")).map(&:text).join).to match(/formula holds; that of B does not/)
    expect(other.formula_problems(kind, kind.field("d1")).map(&:text).join).to match(/does not/)
    expect(other.formula_problems(kind, kind.field("d6"))).to be_empty
    expect(other.formula_problems(kind, kind.field("d1"))).not_to be_empty
  end

  it "answers anything with a value or a sentence, and stops" do
    bits = [
      "value", "survey_date", "today", "title", "'x'", "1", "0", "+", "-", "*", "/", "%", "(", ")", ",", "if(",
      "count(", "tasks", "and", "or", "=", "<", "!=", "days_between(", "^", "[", "{", "case", "when", "`ls`", "\#{1}",
      "null", "true", "999999999999999999999", "add_months(", "round(", "\u0000", "é", ".", "boat_owner.country"
    ]
    PropCheck.forall(
      PropCheck::Generators.array(PropCheck::Generators.one_of(*bits.map { |bit| PropCheck::Generators.constant(bit) }))
    ) do |some|
      problems = []
      formula = described_class.bind(some.join(" "), deal, schema, problems:)
      next expect(problems.map(&:text)).to all(match(/\Amust /)) unless formula

      seen = facts(after: {"value" => 3, "survey_date" => "2026-12-03"})
      expect([String, Integer, Float, TrueClass, FalseClass, NilClass]).to include(formula.call(seen, seen.after).class)
    end
  end
end
