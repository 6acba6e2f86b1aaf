# frozen_string_literal: true

RSpec.describe Yenvo::Core::Checks do
  def rule_with(*branches, **given) = a_rule(branches: branches.map { |conditions| a_branch(*conditions) }, **given)

  it "finds nothing wrong with a sound rule" do
    expect(
      problems_of(rule_with([a_condition("boat_length", "at_least", 12)], [a_condition("boat_length", "less", 12)]))
    ).to be_empty
  end

  it "finds a branch whose conditions exclude each other" do
    expect(problems_of(rule_with([a_condition("value", "more", 10), a_condition("value", "less", 5)]))).to match(
      [/branches\[1\]\.if: must be able to hold; its conditions and those of “only if” exclude each other/]
    )
    expect(
      problems_of(
        rule_with(
          [a_condition("survey_type", "is", "damage")], only_if: all_of(a_condition("survey_type", "is", "insurance"))
        )
      )
    ).to match([/exclude each other/])
  end

  it "finds a branch that earlier ones leave nothing for" do
    expect(problems_of(rule_with([a_condition("value", "at_least", 10)], [a_condition("value", "more", 20)]))).to match(
      [/branches\[2\]\.if: must be able to match; earlier branches take every such case/]
    )
    expect(
      problems_of(
        rule_with([a_condition("value", "at_least", 10)], [a_condition("value", "more", 20)], branching: "every")
      )
    ).to be_empty
  end

  it "asks of several triggers whether any of them can meet a case" do
    left = {"when" => "stage_left", "stages" => ["quoted"]}
    made = {"when" => "record_made"}
    quoted = all_of(a_condition("stage", "is", "quoted"))
    expect(problems_of(a_rule(trigger: left, only_if: quoted))).to match([/together with the trigger it never does/])
    expect(problems_of(a_rule(trigger: {"any" => [left, made]}, only_if: quoted))).to be_empty
    changed = all_of(a_condition("value", "changed"), a_condition("value", "is_empty"))
    expect(problems_of(a_rule(trigger: {"any" => [made, left]}, only_if: changed))).to be_empty
  end

  it "does not let a rule ask about a task where not each of its triggers watches one" do
    done = {"when" => "task_done"}
    asks = all_of(a_condition("task.title", "is", "Haul out"))
    expect(problems_of(a_rule(trigger: {"any" => [done, {"when" => "task_dropped"}]}, only_if: asks))).to be_empty
    expect(problems_of(a_rule(trigger: {"any" => [done, {"when" => "record_made"}]}, only_if: asks))).to match(
      [/only_if: must not ask about the task; not every trigger of this rule watches one/]
    )
  end

  it "does not let a timer stand beside a day on which conditions become true" do
    quiet = {"when" => "quiet_timer", "nothing" => ["contact"], "span" => {"count" => 3, "unit" => "days"}}
    days = all_of(a_condition("survey_date", "within_next", {"count" => 3, "unit" => "days"}))
    expect(problems_of(a_rule(trigger: {"any" => [quiet, {"when" => "record_changed"}]}, only_if: days))).to match(
      [/trigger: must have no timer beside “Any field changes”/]
    )
  end

  it "finds an only if that never holds with the trigger" do
    expect(problems_of(rule_with([], only_if: all_of(a_condition("stage", "is", "quoted"))))).to match(
      [/only_if: must be able to hold; together with the trigger it never does/]
    )
    expect(problems_of(rule_with([a_condition("stage", "was", "survey_booked")]))).not_to be_empty
  end

  it "never calls a branch dead that some event hits", :slow do
    for_many(60) do |chance|
      rule = chance.rule
      dead =
        described_class.run(rule, a_schema)
          .filter_map { |problem| problem.path[1] if problem.path[0] == "branches" && problem.path[2] == "if" }
      next if dead.empty?

      bound, = Yenvo::Core::CompiledRule.bind(rule, a_schema)
      200.times do
        hit = bound.hit(chance.facts) || []
        expect(hit & dead).to be_empty
      end
    end
  end

  it "names gaps and overlaps with an example, and persons who have left" do
    look = ->(rule) { described_class.look(rule, a_schema)[1].map { |note| [note["kind"], note["text"]] } }
    two =
      a_rule(
        branches: [
          a_branch(a_condition("survey_date", "before", "2026-12-01")),
          a_branch(a_condition("survey_type", "is", "damage"))
        ]
      )
    expect(look.call(two)).to eq(
      [
        ["gap", "No branch takes Survey date Tue 1 Dec 2026, Survey type Pre-purchase"],
        ["overlap", "Branches 1 and 2 both take Survey date Mon 30 Nov 2026, Survey type Damage; branch 1 comes first"]
      ]
    )
    expect(look.call(two.with(otherwise: [a_task])).map(&:first)).to eq(["overlap"])
    expect(look.call(two.with(branching: "every")).map(&:first)).to eq(["gap"])
    expect(look.call(a_rule(branches: [a_branch(a_condition("deposit_in", "is", true))]))).to eq(
      [["gap", "No branch takes Deposit in no"]]
    )
    expect(look.call(a_rule(only_if: all_of(a_condition("owner", "is_not", "gone")), branches: [a_branch]))).to eq(
      [["left", "Ada Gone, whom the rule names, has left"]]
    )
    whole =
      a_rule(
        branches: [
          a_branch(a_condition("value", "at_least", 10)), a_branch(a_condition("value", "less", 10)),
          a_branch(a_condition("value", "is_empty"))
        ]
      )
    expect(look.call(whole)).to eq([])
  end

  it "gathers everything in one pass" do
    rule =
      a_rule(
        name: " ", trigger: {"when" => "stage_entered", "stages" => []},
        branches: [
          a_branch(
            a_condition("nowhere", "is", 1),
            run: [
              a_task(
                title: " ", due:
                  Yenvo::Core::DateRule.new(
                    count: 1, unit: "days", direction: "after", from: "value", at: nil, day_off: "later"
                  )
              )
            ]
          ),
          a_branch(run: [])
        ]
      )
    expect(problems_of(rule)).to match(
      [
        /\Aname: must have words/, /trigger.stages: must name at least one/,
        /branches\[1\].if.all\[1\].field: must name a field/, /branches\[1\].do\[1\].title: must have words/,
        /branches\[1\].do\[1\].due.from: must be now, event or a date field/,
        /branches\[2\].do: must do at least one thing/
      ]
    )
  end
end
