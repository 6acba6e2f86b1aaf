# frozen_string_literal: true

RSpec.describe Yenvo::Core::Assignment do
  let(:away) { a_calendar(absences: {"callum" => [[Date.new(2026, 11, 20), Date.new(2026, 11, 27)]]}) }

  # @return [Array] person, queue and the sentence of the run
  def chosen(assign, fallback = nil, after: {}, calendar: a_calendar, **event)
    rule = a_rule(branches: [a_branch(run: [a_task(assign:, fallback:)])])
    _, _, task =
      compiled(rule, calendar:).plan(booked(after, **event), now: Builders::NOON) { false }.tasks.first
    [task.assignee, task.queue, task.reason]
  end

  it "takes the owner, the creator, a person field, a linked one, who did it, a queue" do
    queue = {"to" => "queue", "queue" => "callbacks"}
    owner = {3 => {"id" => 3, "title" => "Aldo", "adviser" => "maren"}}
    expect(chosen({"to" => "owner"}, queue, after: {"owner" => "hollie"})).to eq(
      ["hollie", nil, "to Hollie Banner, the deal owner"]
    )
    expect(chosen({"to" => "creator"}, queue, after: {"creator" => "callum"}).first).to eq("callum")
    expect(chosen({"to" => "field", "field" => "surveyor"}, queue, after: {"surveyor" => "callum"}).first).to eq(
      "callum"
    )
    expect(
      chosen({"to" => "field", "field" => "boat_owner.adviser"}, queue, after: {"boat_owner" => 3}, linked: owner)
    ).to eq(["maren", nil, "to Maren Oduya, Owner of the boat · Adviser"])
    expect(chosen({"to" => "who_did_it"}, queue, who: "hollie").first).to eq("hollie")
    expect(chosen(queue)).to eq([nil, "callbacks", "to the queue Callbacks"])
  end

  it "goes to the fallback when there is nobody, or who it is is away or has left, and says who was passed over" do
    maren = {"to" => "person", "person" => "maren"}
    expect(chosen({"to" => "owner"}, maren)).to eq(
      ["maren", nil, "to Maren Oduya, named in the rule; the deal has no owner"]
    )
    expect(chosen({"to" => "who_did_it"}, maren, who: nil).last).to include("Yenvo itself did it")
    expect(
      chosen({"to" => "field", "field" => "surveyor"}, maren, after: {"surveyor" => "callum"}, calendar: away).last
    ).to eq("to Maren Oduya, named in the rule; Callum Reyes is away until Fri 27 Nov 2026")
    expect(chosen({"to" => "owner"}, maren, after: {"owner" => "gone"}).last).to end_with("Ada Gone has left")
  end

  it "gives it to somebody who is away rather than to nobody" do
    expect(chosen({"to" => "person", "person" => "callum"}, calendar: away)).to match(
      ["callum", nil, /though Callum Reyes is away until .* and there is no other/]
    )
  end

  it "fits still when somebody whom it names has left: they are passed over, one of several too" do
    named = {"to" => "person", "person" => "gone"}
    expect(
      problems_of(
        a_rule(branches: [a_branch(run: [a_task(assign: named, fallback: {"to" => "person", "person" => "maren"})])])
      )
    ).to be_empty
    expect(chosen(named, {"to" => "person", "person" => "maren"})).to match(["maren", nil, /Ada Gone has left/])
    expect { chosen(named, nil) }.to raise_error(Yenvo::Core::Error, /There is no one to assign to: Ada Gone has left/)
  end

  it "wants a fallback wherever nobody may come up, and one that is sure" do
    expect(problems_of(a_rule(branches: [a_branch(run: [a_task(assign: {"to" => "owner"})])]))).to match(
      [/fallback: must name somebody for when the deal owner is nobody or away/]
    )
    expect(
      problems_of(a_rule(branches: [a_branch(run: [a_task(assign: {"to" => "owner"}, fallback: {"to" => "creator"})])]))
    ).to match([/must be a named person or a queue/])
    expect(problems_of(a_rule(branches: [a_branch(run: [a_task(assign: nil)])]))).to match(
      [/assign: must say who gets the task/]
    )
    expect(
      problems_of(a_rule(branches: [a_branch(run: [a_task(assign: {"to" => "person", "person" => "nobody"})])]))
    ).to match([/must name a person; there is no "nobody"/])
    expect(
      problems_of(a_rule(branches: [a_branch(run: [a_task(assign: {"to" => "queue", "queue" => "nowhere"})])]))
    ).to match([/there is no "nowhere"/])
    expect(
      problems_of(
        a_rule(
          branches: [
            a_branch(
              run: [
                a_task(
                  assign: {"to" => "field", "field" => "value"}, fallback: {"to" => "queue", "queue" => "callbacks"}
                )
              ]
            )
          ]
        )
      )
    ).to match([/must be a person field; Value is none/])
  end
end
