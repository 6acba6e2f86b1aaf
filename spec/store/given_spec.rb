# frozen_string_literal: true

# What people are told and what a task says of when it is to be begun, reminded of and done.
RSpec.describe "Being told" do
  def told(person = nil) = db[:notices].where({person:}.compact).order(:id).select_map(%i[person text what])

  def by_hand(who: "hollie", **given) =
    root.tasks.make({"title" => "Call Aldo"}.merge(given.transform_keys(&:to_s)), cause: cause(who))

  def for_wen(title = "Look at {{ record.title }}") =
    {"action" => "task", "title" => title, "assign" => {"to" => "person", "person" => "wen"}}

  it "of tasks that a colleague gave or passed on, and not of those one gave oneself" do
    task = by_hand(assignee: "wen")
    by_hand(assignee: "hollie")
    root.tasks.pass_on(task[:id], assignee: "callum", cause: cause("wen"))
    root.tasks.take(
      root.tasks.make({"title" => "Queue", "queue" => "yard_work"}, cause:)[:id], cause: cause("wen")
    )
    expect(told).to eq(
      [
        ["wen", "Hollie Banner gave you “Call Aldo”.", "given"],
        ["callum", "Wen Zhao passed “Call Aldo” on to you.", "given"]
      ]
    )
  end

  it "of tasks that a rule, a kit or a change by a rule gave, once for what came together" do
    publish(survey_rule("name" => "Booked", "branches" => [{"do" => [for_wen]}]))
    publish(
      survey_rule(
        "name" => "Mixed",
        "branches" => [
          {"do" => [for_wen("Mixed"), {"action" => "set", "values" => [{"field" => "value", "formula" => "7"}]}]}
        ]
      )
    )
    publish(
      "name" => "Passes", "trigger" => {"when" => "record_changed", "field" => "deposit_in"},
      "branches" => [
        {
          "do" => [
            {
              "action" => "tasks", "which" => {"all" => [{"field" => "title", "test" => "is", "value" => "Mixed"}]},
              "assign" => {"to" => "person", "person" => "callum"}
            }
          ]
        }
      ]
    )
    id = make("deal", "stage" => "survey_booked")["id"]
    2.times { |i| make("deal", "title" => "Boat #{i}", "stage" => "quoted") }
    work
    change(id, {"deposit_in" => true})
    work
    expect(told).to contain_exactly(
      ["wen", "“Booked” gave you “Look at Quiet Hour”.", "given"], ["wen", "“Mixed” gave you “Mixed”.", "given"],
      ["callum", "“Passes” passed “Mixed” on to you.", "given"]
    )
    db[:notices].delete
    publish(survey_rule("name" => "Many", "branches" => [{"do" => [for_wen("A\nB\nC")]}]))
    make("deal", "title" => "Large", "stage" => "survey_booked")
    work
    expect(told.map { |_, text, _| text }).to include("“Many” gave you 3 tasks (“A” and others).")
  end

  it "of a reminder at its moment, wherever that has moved, once, and of none when the task is over" do
    at = ->(hours) { Database::NOW + (hours * 3600) }
    kept, moved, over, queued =
      [{}, {}, {}, {queue: "yard_work", assignee: nil}].map do |more|
        by_hand(assignee: "wen", remind_at: "2026-11-24T14:00:00Z", due_on: "2026-11-25", due_at: "09:00", **more)
      end
    root.tasks.edit(moved[:id], {"remind_at" => "2026-11-24T18:00:00Z"}, cause: cause("wen"))
    root.tasks.finish(over[:id], cause: cause("wen"))
    work(at: at.call(1))
    expect(told("wen").select { |_, _, what| what == "reminder" }).to be_empty
    2.times { work(at: at.call(2.1)) }
    reminders = -> { db[:notices].where(what: "reminder").order(:id).select_map(%i[person text task_id]) }
    expect(reminders.call).to eq([["wen", "Reminder: “Call Aldo”, due Wed 25 Nov 2026 09:00.", kept[:id]]])
    work(at: at.call(6.1))
    expect(reminders.call.map(&:last)).to eq([kept[:id], moved[:id]])
    expect(db[:tasks].where(id: queued[:id]).get(:reminded)).to be(true)
    root.tasks.edit(kept[:id], {"remind_at" => "2026-11-25T08:00:00Z"}, cause: cause("wen"))
    pass(from: at.call(6.2), to: [2026, 11, 26])
    expect(reminders.call.size).to eq(3)
  end

  it "of a job that has ended" do
    row = publish(survey_rule("name" => "Now", "how_often" => "once_per_record"))
    make("deal", "stage" => "survey_booked")
    work
    root.jobs.start(row, total: 1, filter: {}, cause: cause("maren"))
    5.times { work }
    expect(told("maren").map { |_, text, what| [text, what] }).to eq(
      [["“Now” has run on 0 of the 1 records that were looked at.", "job"]]
    )
  end
end

RSpec.describe "A task with a start" do
  def by_hand(**given) =
    root.tasks.make(
      {"title" => "Paint", "assignee" => "wen", "due_on" => "2026-12-04"}.merge(given.transform_keys(&:to_s)),
      cause:
    )

  it "is not to be done before: it is not counted, nor handed out from a queue" do
    by_hand(start_on: "2026-12-01")
    by_hand(title: "Now")
    root.tasks.make(
      {"title" => "Later", "queue" => "yard_work", "priority" => "urgent", "start_on" => "2026-12-01"}, cause:
    )
    expect(root.worklist.counts("wen", now: Database::NOW)).to include(open: 1)
    expect(root.worklist.counts("wen", now: Time.utc(2026, 12, 1, 9))).to include(open: 2)
    expect(root.worklist.list({assignee: "wen", due: "starts"}, now: Database::NOW).map { |row| row[:title] }).to eq(
      ["Paint"]
    )
    expect(root.queues.take_next(["yard_work"], cause: cause("wen"))).to be_nil
    expect(root.queues.take_next(["yard_work"], cause: cause("wen", at: Time.utc(2026, 12, 1, 9)))[:title]).to eq(
      "Later"
    )
  end

  it "stands in its place among the parts" do
    parent = by_hand(title: "Whole")
    [["Third", nil], ["Second", 2], ["First", 1]].each do |title, place|
      root.tasks.edit(by_hand(title:, parent_id: parent[:id])[:id], {"place" => place}, cause:)
    end
    expect(root.tasks.parts(parent[:id]).map { |row| row[:title] }).to eq(%w[First Second Third])
  end

  it "is edited in all that it says, and asks for answers when it was made by hand" do
    task = by_hand(answers: ["Yes", "No", " "], remind_at: "2026-11-30T09:00:00Z")
    expect(task).to include(answers: '["Yes","No"]', remind_at: Time.utc(2026, 11, 30, 9))
    edited =
      root.tasks.edit(
        task[:id],
        {
          "title" => "Paint it", "due_on" => "2026-12-07", "due_at" => "10:00", "start_on" => nil,
          "answers" => %w[Done Later], "way" => "visit"
        },
        cause: cause("wen")
      )
    expect(edited).to include(
      title: "Paint it", due_on: Date.new(2026, 12, 7), due_minutes: 600, answers: '["Done","Later"]', way: "visit"
    )
    expect(refused { root.tasks.edit(task[:id], {"answers" => %w[a A]}, cause:) }["answers"]).to match(
      /each stands once/
    )
    expect(refused { root.tasks.finish(task[:id], cause:) }["answer"]).to match(/Done, Later/)
  end

  it "is opened again, with nothing left of how it ended" do
    task = by_hand
    root.tasks.finish(task[:id], note: "Quick", cause: cause("wen"))
    expect(root.tasks.reopen(task[:id], cause: cause("tobias"))).to include(
      open: true, state: "open", done_at: nil, done_by: nil, took_minutes: nil
    )
    expect(refused { root.tasks.reopen(task[:id], cause: cause("tobias")) }["task"]).to match(/open already/)
  end
end

RSpec.describe "Asking first" do
  it "makes in the end what would have been made, all of it" do
    plain = {
      "action" => "task", "title" => "Parent ___", "assign" => {"to" => "owner"},
      "fallback" => {"to" => "queue", "queue" => "callbacks"}, "ask" => true, "place" => 3,
      "start" => {"count" => 1, "unit" => "days"}, "remind" => {"count" => 2, "unit" => "hours"},
      "due" => {"count" => 3, "unit" => "days", "at" => "09:00"}
    }
    publish(
      survey_rule(
        "name" => "Asks",
        "branches" => [
          {
            "do" => [
              plain, plain.merge("title" => "Part", "under" => 1),
              {
                "action" => "ladder", "on" => "1",
                "steps" => [{"after" => {"count" => 1, "unit" => "days", "from" => "now"}, "do" => "raise"}]
              }
            ]
          }
        ]
      )
    )
    make("deal", "stage" => "survey_booked")
    work
    expect([db[:tasks].count, db[:timers].count]).to eq([0, 0])
    first, second = root.proposals.of("hollie")
    sent = root.proposals.send_off(first[:id], {"title" => "Parent"}, cause: cause(at: Database::NOW + 3600))
    part = root.proposals.send_off(second[:id], {}, cause: cause(at: Database::NOW + 3600))
    expect(sent).to include(
      place: 3, start_on: Date.new(2026, 11, 25), remind_at: be_within(1).of(Database::NOW + 7200),
      due_on: Date.new(2026, 11, 27), due_minutes: 540
    )
    expect(part).to include(parent_id: sent[:id])
    expect(db[:timers].select_map(%i[purpose task_id due_at])).to eq([["ladder", sent[:id], Time.utc(2026, 11, 25, 8)]])
    pass(from: Database::NOW + 3600, to: [2026, 11, 26, 12])
    expect(db[:tasks].where(id: sent[:id]).get(:priority)).to eq(2)
  end
end
