# frozen_string_literal: true

# What rules of these examples do.
module BreakingActions
  TASK = {"action" => "task", "title" => "Look", "assign" => {"to" => "queue", "queue" => "callbacks"}}.freeze
  SET = {"action" => "set", "values" => [{"field" => "value", "formula" => "7"}]}.freeze
  EMPTY = {
    "action" => "record", "kind" => "ticket", "values" => [{"field" => "title", "text" => "{{ record.survey_type }}"}]
  }.freeze
  KIT = {"action" => "kit", "kit" => "launch"}.freeze
  FAILING = {
    "an empty text" => [EMPTY], "an empty text behind a task" => [TASK, EMPTY],
    "an action that breaks" => [{"action" => "log", "way" => "note", "text" => "x"}],
    "an action behind a task that breaks" => [TASK, {"action" => "log", "way" => "note", "text" => "x"}]
  }.freeze
  HEALTHY = {"a task" => [TASK], "a field" => [SET], "a kit" => [KIT], "several" => [TASK, SET]}.freeze
end

# Rules and kits that break in ways nobody foresaw: they fail alone, and everything else goes on.
RSpec.describe "A rule that breaks" do
  before { allow(Yenvo::Store::Breakage::LOG).to receive(:error) }

  def a_rule_that(name, *actions, **more) =
    publish(survey_rule("name" => name, "branches" => [{"do" => actions}], **more))

  def runs =
    db[:runs].join(:rules, id: :rule_id).order(Sequel[:runs][:id]).select_map([:name, Sequel[:runs][:state]]).to_h

  # Breaks all plans, or the carrying out, of one rule.
  def break_planning(name)
    allow_any_instance_of(Yenvo::Core::CompiledRule).to receive(
      :plan
    ).and_wrap_original do |whole, *given, **more, &block|
      raise NoMethodError, "undefined method `haul'" if whole.receiver.rule.name == name

      whole.call(*given, **more, &block)
    end
  end

  def break_matching(name)
    %i[hit hit_beyond_key].each do |way|
      allow_any_instance_of(Yenvo::Core::CompiledRule).to receive(way).and_wrap_original do |whole, *given|
        raise ZeroDivisionError, "divided by 0" if whole.receiver.rule.name == name

        whole.call(*given)
      end
    end
  end

  def break_tasks(title)
    allow_any_instance_of(Yenvo::Store::Tasks).to receive(:planned_row).and_wrap_original do |whole, task, **more|
      raise KeyError, "key not found" if task.title == title

      whole.call(task, **more)
    end
  end

  it "fails as a run with a sentence, tells its owner once, and later events of the record go on" do
    a_rule_that("Healthy", BreakingActions::TASK)
    broken = a_rule_that("Broken", BreakingActions::TASK)
    break_planning("Broken")
    id = make("deal", "stage" => "survey_booked")["id"]
    change(id, {"stage" => "quoted"})
    change(id, {"stage" => "survey_booked"})
    work
    expect(root.waiting.count).to eq(0)
    expect(db[:tasks].count).to eq(2)
    failed = root.runs.list(state: "failed")
    expect(failed.map { |run| run[:why] }).to all(
      match(/\AYenvo could not work out what to do\. .* under entry \d+, rule #{broken[:id]}\.\z/)
    )
    expect(db[:notices].where(person: "maren").select_map(%i[what text])).to match(
      [["failed", /\A“Broken” failed on “Quiet Hour”: Yenvo could not/]]
    )
    expect(Yenvo::Store::Breakage::LOG).to have_received(:error).with(
      anything, hash_including(rule: broken[:id]), an_instance_of(NoMethodError)
    ).at_least(:twice)
  end

  {"when it is asked whether it fits" => :break_matching, "when it plans" => :break_planning}.each do |moment, way|
    it "fails alone #{moment}, whatever stands beside it in a turn" do
      a_rule_that("Broken", BreakingActions::TASK)
      [["Task", BreakingActions::TASK], ["Set", BreakingActions::SET]].each { |name, action| a_rule_that(name, action) }
      send(way, "Broken")
      3.times { |i| make("deal", "title" => "Boat #{i}", "stage" => "survey_booked") }
      work
      expect(
        db[:runs].join(:rules, id: :rule_id).group_and_count(:name, Sequel[:runs][:state])
          .to_h { |row| [row[:name], [row[:state], row[:count]]] }
      ).to eq("Broken" => ["failed", 3], "Task" => ["ran", 3], "Set" => ["ran", 3])
    end
  end

  it "fails alone when its tasks are written together with those of others", :committed do
    a_rule_that("Broken", BreakingActions::TASK.merge("title" => "Bad"))
    a_rule_that("Healthy", BreakingActions::TASK)
    break_tasks("Bad")
    3.times { |i| make("deal", "title" => "Boat #{i}", "stage" => "survey_booked") }
    work
    expect([db[:tasks].select_map(:title), runs]).to eq(
      [%w[Look Look Look], {"Broken" => "failed", "Healthy" => "ran"}]
    )
  end

  # Every pair of a rule that fails in some way and a healthy one of each sort, in either order.

  BreakingActions::FAILING.to_a.product(BreakingActions::HEALTHY.to_a)
    .each do |(bad, bad_actions), (good, good_actions)|
      it "with #{bad} leaves a rule with #{good} whole" do
        %w[11-rigging-job 12-launch].each { |kit| publish_demo_kit(kit) } if good == "a kit"
        allow_any_instance_of(Yenvo::Store::LiveWorld).to receive(:log_interaction)
          .and_raise(NoMethodError, "undefined method")
        a_rule_that("Bad before", *bad_actions)
        a_rule_that("Good", *good_actions)
        a_rule_that("Bad after", *bad_actions)
        make("deal", "stage" => "survey_booked", "launch_date" => "2026-12-15")
        work
        expect(runs).to eq("Bad before" => "failed", "Good" => "ran", "Bad after" => "failed")
        expect([root.waiting.count, db[:tasks].count.positive?]).to eq([0, good != "a field"])
      end
    end

  it "refuses a save before which it runs, with its name" do
    publish(
      "name" => "Early", "trigger" => {"when" => "record_changed", "field" => "value"},
      "run" => "before_save", "branches" => [{"do" => [BreakingActions::SET]}]
    )
    id = make("deal")["id"]
    break_planning("Early")
    expect(refused { change(id, {"value" => 3}) }).to match(
      "rule" => /\AThe rule “Early” stopped this save: Yenvo could not/
    )
    break_matching("Early")
    expect(refused { change(id, {"value" => 3}) }).to match("rule" => /\AThe rule “Early” stopped this save/)
  end

  it "stops no timers of others when a timer wakes it" do
    timer = {
      "trigger" => {
        "when" => "date_timer",
        "date" => {"count" => 1, "unit" => "days", "direction" => "before", "from" => "survey_date"}
      },
      "branches" => [{"do" => [BreakingActions::TASK]}]
    }
    %w[Broken Healthy].each { |name| publish(timer.merge("name" => name)) }
    work
    make("deal", "survey_date" => "2026-11-26")
    work
    break_planning("Broken")
    pass(to: [2026, 11, 26])
    expect(runs).to eq("Broken" => "failed", "Healthy" => "ran")
  end

  it "says what kits in use cannot go on, and goes on with the rest" do
    %w[11-rigging-job 12-launch].each { |name| publish_demo_kit(name) }
    kit = root.kits.compiled(db[:kits].where(key: "launch").get(:version_id))
    boats = %w[One Two].map { |title| make("deal", "title" => title, "launch_date" => "2026-12-15")["id"] }
    boats.each { |id| root.copies.begin(kit, id, cause:) }
    allow_any_instance_of(Yenvo::Core::Kits::CompiledKit).to receive(
      :come
    ).and_wrap_original do |whole, due, facts, **more|
      raise NoMethodError, "undefined method" if facts.after["title"] == "One"

      whole.call(due, facts, **more)
    end
    tasks = db[:tasks].where(record_id: boats).order(:id).all
    tasks.each { |task| root.tasks.finish(task[:id], answer: JSON.parse(task[:answers]).first, cause:) }
    work
    expect(root.journal.of_kits(boats[0]).map { |entry| entry[:what] }).to include("kit_stuck")
    expect(root.journal.of_kits(boats[1]).map { |entry| entry[:what] }).not_to include("kit_stuck")
    expect(root.waiting.count).to eq(0)
  end
end

RSpec.describe "What stands aside" do
  let(:log) { instance_double(SemanticLogger::Logger, error: nil, warn: nil, info: nil) }

  it "is the entry at fault and no other, though others come to the front while it fails" do
    bad = make("deal", "title" => "Bad")["id"]
    db[:journal].where(record_id: bad).update(after: "{broken")
    entry = db[:journal].where(record_id: bad).get(:id)
    worker =
      Yenvo::Engine::Worker.new(root, clock: Database::FixedClock.new(Database::NOW + 1), log:, batch_size: 1)
    allow(root.waiting).to receive(:set_aside).and_wrap_original do |whole, id, *given, **more|
      # Somebody else's record has come to the front of the queue.
      db[:waiting].where(entry_id: entry).update(entry_id: entry + 1_000_000)
      make("deal", "title" => "Good")
      db[:waiting].where(entry_id: entry + 1_000_000).update(entry_id: entry)
      whole.call(id, *given, **more)
    end
    worker.turn
    expect(db[:waiting].exclude(last_error: nil).select_map(:entry_id)).to eq([entry])
    expect(root.waiting.aside).to match(
      [hash_including(entry_id: entry, record_id: bad, tries: 1, behind: 0, last_error: /JSON/, what: "record_made")]
    )
  end

  it "holds up only its own record, however many events wait behind it", :committed do
    publish(survey_rule)
    bad = make("deal", "title" => "Bad")["id"]
    db[:journal].where(record_id: bad).update(after: "{broken")
    20.times { |i| change(bad, {"value" => i}) }
    make("deal", "title" => "Good", "stage" => "survey_booked")
    worker =
      Yenvo::Engine::Worker.new(root, clock: Database::FixedClock.new(Database::NOW + 1), log:, batch_size: 4)
    8.times { worker.turn }
    expect([db[:tasks].count, root.waiting.count]).to eq([1, 21])
  end

  it "is taken again by a press, with what waits behind it", :committed do
    publish(survey_rule)
    id = make("deal", "title" => "Bad", "stage" => "survey_booked")["id"]
    good = db[:journal].where(record_id: id).get(:after)
    db[:journal].where(record_id: id).update(after: "{broken")
    change(id, {"value" => 5})
    worker = Yenvo::Engine::Worker.new(root, clock: Database::FixedClock.new(Database::NOW + 1), log:)
    3.times { worker.turn }
    expect(root.waiting.aside[0]).to include(behind: 1)
    db[:journal].where(record_id: id, what: "record_made").update(after: good)
    3.times { worker.turn }
    expect(db[:tasks].count).to eq(0)
    root.waiting.again(root.waiting.aside[0][:entry_id])
    # Another process, which has not looked past it lately.
    work(at: Database::NOW + 1)
    expect([db[:tasks].count, root.waiting.count]).to eq([1, 0])
    expect { root.waiting.again(1) }.to raise_error(Yenvo::Store::NotFound)
  end
end
