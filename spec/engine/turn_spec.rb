# frozen_string_literal: true

RSpec.describe "Yenvo::Engine::Turn" do
  def open_tasks = root.worklist.open

  it "makes the task of a rule, with who, when and why, and settles the entry" do
    publish(survey_rule)
    id = make("deal")["id"]
    change(id, {"stage" => "survey_booked"}, at: Database::NOW + 10)
    expect(work(at: Database::NOW + 10.041)).to eq(2)
    task = open_tasks.first
    expect(task).to include(
      title: "Call about Quiet Hour", assignee: "hollie", team: "front_office", due_on: Date.new(2026, 11, 25),
      due_minutes: 540, due_at: Time.utc(2026, 11, 25, 9), record_id: id, branch: "1", action: 1, made_by: nil,
      state: "open"
    )
    run = root.runs.find!(task[:run_id])
    expect(run).to include(state: "ran", branches: "1", why: "Stage becomes Survey booked", task_count: 1, depth: 0)
    expect(run[:at]).to be_within(0.001).of(Database::NOW + 10.041)
    expect(root.waiting.count).to eq(0)
    expect(root.history.of_record(id).first).to include("what" => "task_made", "who" => nil, "run" => run[:id])
  end

  it "makes nothing before what it was made for, also when its clock is behind the one that wrote the event" do
    publish(survey_rule)
    make("deal", "stage" => "survey_booked", :at => Database::NOW + 3_600)
    work(at: Database::NOW)
    expect([open_tasks[0][:made_at], db[:runs].get(:at)]).to all(be_within(0.001).of(Database::NOW + 3_600))
  end

  it "meets an event once, however often it is handed out" do
    publish(survey_rule)
    make("deal", "stage" => "survey_booked")
    entries = db[:journal].where(what: "record_made").all
    work
    db[:waiting].insert(entry_id: entries[0][:id], record_id: entries[0][:record_id])
    expect { Yenvo::Engine::Turn.new(root, log: SemanticLogger["spec"]).settle(entries, Database::NOW) }.to raise_error(
      Sequel::UniqueConstraintViolation
    )
    expect(open_tasks.size).to eq(1)
  end

  it "does not touch records of before the publication" do
    id = make("deal", "stage" => "survey_booked")["id"]
    publish(survey_rule)
    expect(work).to eq(1)
    expect(open_tasks).to be_empty
    change(id, {"value" => 5})
    work
    expect(open_tasks).to be_empty
  end

  it "meets each event with the version that was in force when it happened, even when the worker comes late" do
    rule = publish(survey_rule)
    one = make("deal", "title" => "First", "stage" => "survey_booked")["id"]
    second =
      Yenvo::Core::RuleReader.read!(
        {"format" => "yenvo-rule/1", "record" => "deal"}.merge(
          survey_rule(
            "branches" => [
              {
                "do" => [
                  {
                    "action" => "task", "title" => "Write about {{ record.title }}",
                    "assign" => {"to" => "queue", "queue" => "callbacks"}
                  }
                ]
              }
            ]
          )
        )
      )
    root.rules.publish(rule[:id], second, cause: cause("maren"))
    two = make("deal", "title" => "Second", "stage" => "survey_booked")["id"]
    root.rules.pause(rule[:id], cause: cause("maren"))
    make("deal", "title" => "Third", "stage" => "survey_booked")
    work
    expect(open_tasks.to_h { |task| [task[:record_id], task[:title]] }).to eq(
      one => "Call about First", two => "Write about Second"
    )
  end

  it "sees the record, and linked ones, as they were right after the event" do
    publish(
      survey_rule(
        "only_if" => {
          "all" => [
            {"field" => "boat_owner.country", "test" => "is", "value" => "ireland"},
            {"field" => "value", "test" => "less", "value" => 100}
          ]
        }
      )
    )
    owner = make("contact", "title" => "Aldo", "country" => "ireland")["id"]
    id = make("deal", "boat_owner" => owner, "value" => 50)["id"]
    change(id, {"stage" => "survey_booked"})
    change(id, {"value" => 500})
    change(owner, {"country" => "norway"})
    work
    expect(open_tasks.size).to eq(1)
  end

  describe "how often" do
    def enter_leave_and_enter(id)
      change(id, {"stage" => "survey_booked"})
      change(id, {"value" => 7})
      change(id, {"stage" => "quoted"})
      change(id, {"stage" => "survey_booked"})
    end

    {"every_time" => 2, "once_per_record" => 1, "once_per_visit" => 2}.each do |often, tasks|
      it "#{often.tr("_", " ")} makes #{tasks} when a stage is left and entered again, in one turn or in many" do
        publish(survey_rule("how_often" => often))
        enter_leave_and_enter(make("deal")["id"])
        work
        other = make("deal")["id"]
        [{"stage" => "survey_booked"}, {"stage" => "quoted"}, {"stage" => "survey_booked"}].each do |values|
          change(other, values) && work
        end
        expect(db[:tasks].group_and_count(:record_id).map { |row| row[:count] }).to eq([tasks, tasks])
      end
    end

    it "counts a visit once although the trigger fires again within it" do
      publish(
        survey_rule("how_often" => "once_per_visit", "trigger" => {"when" => "record_changed", "field" => "value"})
      )
      id = make("deal")["id"]
      [1, 2, 3].each { |value| change(id, {"value" => value}) }
      change(id, {"stage" => "quoted", "value" => 4})
      work
      expect(open_tasks.size).to eq(2)
    end
  end

  it "runs rules in the order of their list and every branch in its order" do
    publish(
      survey_rule(
        "name" => "One", "branching" => "every",
        "branches" => [
          {
            "do" => [
              {"action" => "task", "title" => "A", "assign" => {"to" => "queue", "queue" => "callbacks"}},
              {"action" => "task", "title" => "B", "under" => 1, "assign" => {"to" => "queue", "queue" => "callbacks"}}
            ]
          },
          {"do" => [{"action" => "task", "title" => "C", "assign" => {"to" => "queue", "queue" => "callbacks"}}]}
        ]
      )
    )
    publish(
      survey_rule(
        "name" => "Two",
        "branches" => [
          {"do" => [{"action" => "task", "title" => "D", "assign" => {"to" => "queue", "queue" => "callbacks"}}]}
        ]
      )
    )
    make("deal", "stage" => "survey_booked")
    work
    tasks = db[:tasks].order(:id).all
    expect(tasks.map { |task| task[:title] }).to eq(%w[A B C D])
    expect(tasks[1][:parent_id]).to eq(tasks[0][:id])
    expect(root.runs.list.map { |run| run[:branches] }).to eq(["1", "1,2"])
  end

  it "keeps a run that fails with its reason, makes nothing for it, and lets others run" do
    publish(
      survey_rule(
        "name" => "Empty",
        "branches" => [
          {
            "do" => [
              {"action" => "task", "title" => "Good", "assign" => {"to" => "queue", "queue" => "callbacks"}},
              {
                "action" => "record", "kind" => "ticket",
                "values" => [{"field" => "title", "text" => "{{ record.survey_type }}"}]
              }
            ]
          }
        ]
      )
    )
    publish(survey_rule)
    make("deal", "stage" => "survey_booked")
    work
    expect(root.runs.list.map { |run| run.values_at(:state, :task_count) }).to contain_exactly(
      ["failed", 0], ["ran", 1]
    )
    expect(root.runs.list(state: "failed").first[:why]).to match(/title of the new ticket comes out empty/)
    expect(open_tasks.map { |task| task[:title] }).to eq(["Call about Quiet Hour"])
  end

  it "sets an entry aside that breaks a turn, works the rest, and comes back to it later" do
    publish(survey_rule)
    bad = make("deal", "title" => "Bad", "stage" => "survey_booked")["id"]
    2.times { |i| make("deal", "title" => "Good #{i}", "stage" => "survey_booked") }
    db[:journal].where(record_id: bad).update(after: "{broken")
    clock = Database::FixedClock.new(Database::NOW + 1)
    log = SemanticLogger["spec"]
    allow(log).to receive(:error)
    worker = Yenvo::Engine::Worker.new(root, clock:, log:)
    20.times { worker.turn }
    expect(open_tasks.map { |task| task[:title] }).to contain_exactly("Call about Good 0", "Call about Good 1")
    expect(db[:waiting].first).to include(tries: be >= 1, last_error: match(/JSON/), not_before: be > clock.now)
    db[:journal].where(record_id: bad).update(after: JSON.generate(root.records.find!(bad)))
    clock.now += 400
    3.times { worker.turn }
    expect(open_tasks.size).to eq(3)
  end
end

RSpec.describe "Yenvo::Engine::WhyNot" do
  def skips(**given) =
    Yenvo::Engine::WhyNot.new(root).skips(root.journal.watched(**given))
      .to_h { |skip| [skip.rule.rule.name, skip.plan.why] }

  it "works out from the journal why rules did not run, as things were then" do
    publish(
      survey_rule("name" => "Small", "only_if" => {"all" => [{"field" => "value", "test" => "less", "value" => 100}]})
    )
    publish(
      survey_rule(
        "name" => "Dated",
        "branches" => [
          {
            "if" => {"all" => [{"field" => "survey_date", "test" => "is_filled_in"}]},
            "do" => [{"action" => "task", "title" => "x", "assign" => {"to" => "queue", "queue" => "callbacks"}}]
          }
        ]
      )
    )
    publish(survey_rule("name" => "Lost", "trigger" => {"when" => "stage_entered", "stages" => ["lost"]}))
    id = make("deal", "stage" => "survey_booked", "value" => 500)["id"]
    work
    change(id, {"value" => 50, "survey_date" => "2026-12-01"})
    expect(skips(record: id)).to eq(
      "Small" => "Value is €500", "Dated" => "No branch matches: Survey date is empty",
      "Lost" => "Stage became Survey booked"
    )
  end

  it "knows that a rule had run before on the visit, but not after" do
    rule = publish(survey_rule("how_often" => "once_per_record"))
    id = make("deal")["id"]
    %w[survey_booked quoted survey_booked].each { |stage| change(id, {"stage" => stage}) }
    work
    entries = db[:journal].where(record_id: id, what: "record_changed").order(:id).all
    why = entries.map { |entry| Yenvo::Engine::WhyNot.new(root).one(entry, rule[:id]).plan }
    expect(why.map(&:why)).to eq(["Stage becomes Survey booked", "Stage became Quoted", "Already ran for this deal"])
    expect(why.map(&:run?)).to eq([true, false, false])
  end

  it "says that a rule was not on then" do
    id = make("deal")["id"]
    rule = publish(survey_rule)
    entry = db[:journal].where(record_id: id).first
    expect(Yenvo::Engine::WhyNot.new(root).one(entry, rule[:id])).to be_nil
  end
end
