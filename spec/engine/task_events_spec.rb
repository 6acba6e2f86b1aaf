# frozen_string_literal: true

# Rules that watch the tasks about a record, and who gets what they make.
RSpec.describe "Rules about tasks" do
  def by_hand(record, **given) =
    root.tasks.make({"title" => "Call Aldo", "record_id" => record}.merge(given.transform_keys(&:to_s)), cause:)

  let(:deal) { make("deal")["id"] }

  it "meets a task that is made, changed, late, dropped and done, and never the ones of other records' kinds" do
    rule({"when" => "task_made"}, {"action" => "log", "way" => "note", "text" => "made: {{ task.title }}"})
    rule(
      {"when" => "task_changed", "what" => ["due"]},
      {"action" => "log", "way" => "note", "text" => "moved: {{ task.title }}"}
    )
    rule(
      {"when" => "task_late"}, {"action" => "log", "way" => "note", "text" => "late: {{ task.title }}"},
      {"action" => "tasks", "only" => "this", "priority" => "urgent"}
    )
    rule({"when" => "task_dropped"}, {"action" => "log", "way" => "note", "text" => "dropped: {{ task.title }}"})
    one = by_hand(deal, "due_on" => "2026-11-25")
    other = by_hand(deal, "title" => "Other")
    by_hand(make("contact")["id"], "title" => "Not a deal")
    by_hand(nil, "title" => "About nothing")
    root.tasks.put_off(one[:id], on: "2026-11-26", cause:)
    root.tasks.pass_on(other[:id], assignee: "wen", cause:)
    work
    3.times { work(at: Time.utc(2026, 11, 27, 9)) }
    root.tasks.drop(one[:id], cause:)
    work
    said = db[:interactions].where(record_id: deal).order(:id).select_map(:text)
    expect(said).to eq(["made: Call Aldo", "made: Other", "moved: Call Aldo", "late: Call Aldo", "dropped: Call Aldo"])
    expect(db[:tasks].order(:id).select_map(:priority)).to eq([3, 1, 1, 1])
  end

  it "gets late once for each due date" do
    rule({"when" => "task_late"}, {"action" => "log", "way" => "note", "text" => "late"})
    one = by_hand(deal, "due_on" => "2026-11-25")
    2.times { work(at: Time.utc(2026, 11, 26, 9)) }
    root.tasks.put_off(one[:id], on: "2026-11-27", cause: cause(at: Time.utc(2026, 11, 26, 9)))
    2.times { work(at: Time.utc(2026, 11, 27, 9)) }
    expect(root.interactions.of_record(deal).size).to eq(1)
    2.times { work(at: Time.utc(2026, 11, 28, 9)) }
    expect(root.interactions.of_record(deal).size).to eq(2)
  end

  it "makes the follow-up with texts from the finished task, the record and the answer, for who had it" do
    rule(
      {"when" => "task_done", "answers" => ["No answer"]},
      task(
        "{{ record.title }}: {{ task.title }} again, {{ task.answer }}", "assign" => {"to" => "task_assignee"},
        "fallback" => {"to" => "queue", "queue" => "callbacks"}
      ),
      how_often: "once_per_task"
    )
    rule(
      {"when" => "task_made"}, task("Call", "answers" => ["Confirmed", "No answer"], "text" => ""),
      only_if: {"all" => [{"field" => "task.title", "test" => "is", "value" => "Start"}]}
    )
    by_hand(deal, "title" => "Start")
    work
    call = db[:tasks].where(title: "Call").first
    root.tasks.finish(call[:id], answer: "No answer", cause: cause("priya"))
    work
    expect(db[:tasks].order(:id).last.values_at(:title, :assignee)).to eq(["Quiet Hour: Call again, No answer", "wen"])
  end

  it "leaves parts alone but where the rule watches them" do
    rule({"when" => "task_done"}, task("After a task"))
    rule({"when" => "task_done", "parts" => true}, task("After a task or part"))
    whole = by_hand(deal)
    part = by_hand(deal, "title" => "Part", "parent_id" => whole[:id])
    root.tasks.finish(part[:id], cause:)
    work
    expect(titles).to eq(["Call Aldo", "Part", "After a task or part"])
    root.tasks.finish(whole[:id], cause:)
    work
    expect(titles.last(2)).to eq(["After a task", "After a task or part"])
  end

  it "counts a second finish after reopening only with every time" do
    rule({"when" => "task_done"}, task("Every time"))
    rule({"when" => "task_done"}, task("Once"), how_often: "once_per_task")
    one = by_hand(deal)
    root.tasks.finish(one[:id], cause:)
    work
    root.tasks.take_back(one[:id], cause:)
    root.tasks.finish(one[:id], cause:)
    work
    expect(titles).to eq(["Call Aldo", "Every time", "Once", "Every time"])
  end

  it "tries a draft on the newest task of each record to which it can happen" do
    by_hand(deal)
    rule =
      Yenvo::Core::RuleReader.read!(
        "format" => "yenvo-rule/1", "name" => "A", "record" => "deal",
        "trigger" => {"when" => "task_done"}, "branches" => [{"do" => [task("After {{ task.title }}")]}]
      )
    make("deal", "title" => "Without tasks")
    trying =
      Yenvo::Engine::Trying.new(
        root, Yenvo::Core::CompiledRule.bind!(rule, root.schema), who: "hollie", now: Database::NOW
      )
    expect([trying.over.looked_at, trying.over.rows.map { |row| row["title"] }]).to eq([1, ["Quiet Hour"]])
    expect(trying.one(deal).last.tasks[0][2].title).to eq("After Call Aldo")
  end

  describe "by turns" do
    before do
      rule(
        {"when" => "record_made"},
        task(
          "Look", "assign" => {"to" => "turns", "team" => "yard_crew"},
          "fallback" => {"to" => "queue", "queue" => "yard_work"}
        )
      )
    end

    let(:crew) { root.schema.people.each_value.select { |person| person.team == "yard_crew" }.map(&:key) }

    it "goes round the team over several workers, and says so" do
      7.times { make("deal") }
      2.times { work }
      given = db[:tasks].order(:id).select_map(:assignee)
      expect(given.tally.values.minmax.then { |least, most| most - least }).to be <= 1
      expect(given.first(crew.size).sort).to eq(crew.sort)
      expect(root.runs.find!(root.runs.list.first[:id])[:actions]).to include("by turns in Yard crew")
      make("deal")
      Yenvo::Engine::Worker.new(
        Yenvo::Store::Root.new(db), clock: Database::FixedClock.new(Database::NOW), log: SemanticLogger["spec"]
      ).drain
      expect(db[:tasks].order(:id).last[:assignee]).to eq(given[-crew.size])
    end
  end

  it "property: turns differ by at most one between those who are there, whoever comes and goes, and no task is " \
    "without an assignee or queue" do
    team = %w[hollie callum maren]
    for_many(60) do |chance|
      people =
        a_schema.people.values.map { |person| team.include?(person.key) ? person.with(team: "front_office") : person }
      kept = {}
      rest = []
      6.times do
        away = team.select { chance.chance(0.3) }
        calendar = a_calendar(absences: away.to_h { |key| [key, [[Date.new(2026, 11, 20), Date.new(2026, 11, 27)]]] })
        schema = build_schema(calendar:, people:)
        rule =
          compiled(
            a_rule(
              branches: [
                a_branch(
                  run: [
                    a_task(
                      assign: {"to" => "turns", "team" => "front_office"},
                      fallback: {"to" => "queue", "queue" => "callbacks"}
                    )
                  ]
                )
              ]
            ),
            schema:
          )
        given =
          chance.some([1, 2, 5, 8]).times
            .map do
              # Each time another worker, which knows nothing but what was kept.
              desk =
                Yenvo::Core::Desk.new(
                  schema,
                  Yenvo::Core::Desk::Source.new(turns: ->(_) { kept }, loads: ->(_) { {} }, owners: ->(_) {})
                )
              seen = Yenvo::Core::Facts.new(booked.event, desk:)
              made = rule.plan(seen, now: Builders::NOON) { false }.tasks[0][2]
              desk.turns_taken.each { |_, person| kept[person] = (kept.values.max || 0) + 1 }
              made
            end
        rest.concat(given)
        there = team - away
        counts = there.to_h { |person| [person, 0] }.merge(given.filter_map(&:assignee).tally)
        expect(counts.keys - there).to be_empty
        expect(counts.values.max - counts.values.min).to be <= 1 unless there.empty?
      end
      expect(rest).to all(satisfy { |task| task.assignee || task.queue })
    end
  end

  it "lightest load: open tasks by priority and due against the hours worked, and the run shows what decided" do
    crew = root.schema.people.each_value.select { |person| person.team == "yard_crew" && person.active }.map(&:key)
    busy, free = crew
    3.times do
      root.tasks.make(
        {"title" => "Heavy", "assignee" => busy, "priority" => "urgent", "due_on" => "2026-11-24"}, cause:
      )
    end
    root.tasks.make({"title" => "Small", "assignee" => free, "priority" => "low"}, cause:)
    rule(
      {"when" => "record_made"},
      task(
        "Look", "assign" => {"to" => "load", "team" => "yard_crew"},
        "fallback" => {"to" => "queue", "queue" => "yard_work"}
      )
    )
    make("deal")
    work
    expect(db[:tasks].where(title: "Look").select_map(:assignee)).to eq([free])
    expect(db[:runs].order(:id).last[:actions]).to include(
      "lightest load in Yard crew (load 0.25, #{root.schema.name_of(busy)} 18)"
    )
    loads = root.desks.loads(crew, now: Database::NOW)
    db[:people].where(key: free).update(hours: 50)
    root.setup_store.changed(who: "maren", now: Database::NOW)
    root.forget
    expect(root.desks.loads(crew, now: Database::NOW)[free]).to be > loads[free]
  end
end
