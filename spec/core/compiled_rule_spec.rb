# frozen_string_literal: true

require "spec_helper"

RSpec.describe Yenvo::Core::CompiledRule do
  let(:long) do
    a_branch(a_condition("boat_length", "at_least", 12), run: [a_task(title: "Book the hoist for {{ record.title }}")])
  end
  let(:short) do
    a_branch(
      a_condition("boat_length", "less", 12), a_condition("survey_type", "is_one_of", %w[pre_purchase insurance])
    )
  end
  let(:rule) do
    a_rule(
      branches: [long, short], otherwise: [a_task(title: "Check what was asked for")], only_if:
        all_of(
          a_condition("survey_date", "is_filled_in"), a_condition("boat_owner.country", "is_one_of", %w[ireland france])
        )
    )
  end
  let(:linked) { {3 => {"id" => 3, "title" => "Aldo Ferrant", "country" => "ireland"}} }
  let(:ready) { {"survey_date" => "2026-12-03", "boat_owner" => 3} }

  def plan(rule, facts) = compiled(rule).plan(facts, now: Builders::NOON) { false }

  it "runs the first branch that matches and says what it saw" do
    plan = plan(rule, booked(ready.merge("boat_length" => 13.4), linked:))
    expect(plan).to have_attributes(state: :run, branches: ["1"], why: "Boat length 13.4 m")
    expect(plan.tasks.map { |row, number, task| [row, number, task.title] }).to eq(
      [["1", 1, "Book the hoist for Quiet Hour"]]
    )
  end

  it "takes the otherwise when no branch matches, and says why" do
    plan = plan(rule, booked(ready.merge("boat_length" => 9.1), linked:))
    expect(plan).to have_attributes(branches: ["otherwise"], why: "Boat length is 9.1 m")
    expect(plan.plain_tests.map { |test| test.values_at("row", "label", "met", "seen") }).to include(
      ["2", "Survey type", false, "empty"]
    )
  end

  it "skips with the value that decided" do
    away = {3 => linked[3].merge("country" => "norway")}
    expect(plan(rule, booked(ready, linked: away))).to have_attributes(
      state: :skip, code: :only_if, why: "Owner of the boat · Country is Norway"
    )
    expect(plan(rule, booked({"boat_owner" => 3}, linked:)).why).to eq("Survey date is empty")
    expect(plan(rule, facts(after: {"stage" => "quoted"}, before: {"stage" => "enquiry"}))).to have_attributes(
      code: :trigger, why: "Stage became Quoted"
    )
  end

  it "runs every branch that matches when told so" do
    every =
      a_rule(
        branching: "every",
        branches: [
          a_branch(a_condition("value", "more", 10)), a_branch(a_condition("value", "more", 5)),
          a_branch(a_condition("value", "more", 500))
        ]
      )
    expect(plan(every, booked({"value" => 20})).branches).to eq(%w[1 2])
  end

  it "skips when it has run in this stretch already, and asks that last" do
    once = compiled(a_rule(how_often: "once_per_visit"))
    expect(once.plan(booked, now: Builders::NOON) { true }).to have_attributes(
      code: :once, why: "Already ran on this visit"
    )
    expect { |asked| once.plan(facts(after: {"stage" => "quoted"}), now: Builders::NOON, &asked) }.not_to yield_control
    expect(once.once_key(booked({"visit" => 4}))).to eq("visit:7:4")
    expect(compiled(a_rule(how_often: "once_per_record")).once_key(booked({"visit" => 4}))).to eq("record:7")
    expect(compiled(a_rule).once_key(booked)).to be_nil
  end

  it "does not meet an event that it caused itself, and ends a chain after 8 links" do
    own = compiled(a_rule, id: 5)
    expect(own.plan(booked({}, cause_rule: 5), now: Builders::NOON) { false }.code).to eq(:own_event)
    expect(own.plan(booked({}, cause_rule: 6), now: Builders::NOON) { false }).to be_run
    expect(own.plan(booked({}, depth: 8), now: Builders::NOON) { false }).to have_attributes(
      code: :chain, why: "The chain of rules ended here, after 8 links"
    )
    matcher = Yenvo::Core::Matcher.new([own])
    expect(matcher.hits(booked({}, cause_rule: 5))).to be_empty
    expect(matcher.hits(booked({}, depth: 8))).to be_empty
    expect(matcher.hits(booked({}, depth: 7))).to eq([own])
  end

  it "makes no task of an empty line, and one for each line that has words" do
    empty = plan(a_rule(branches: [a_branch(run: [a_task(title: "{{ record.notes }}"), a_task])]), booked)
    nothing = "Nothing to do: the title came out empty, and an empty line is never a task"
    expect(empty.steps.map { |_, number, step| [number, step.words] }).to eq([[1, nothing], [2, "Call the owner"]])
    lines =
      plan(
        a_rule(branches: [a_branch(run: [a_task(title: "{{ record.notes }}")])]),
        booked({"notes" => "Wash the hull\n\n  Wax it \n"})
      )
    expect(lines.tasks.map { |_, _, task| task.title }).to eq(["Wash the hull", "Wax it"])
  end
end
