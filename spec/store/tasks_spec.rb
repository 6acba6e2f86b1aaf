# frozen_string_literal: true

RSpec.describe "Yenvo::Store::Tasks" do
  def task(given = {}, **values) = root.tasks.make({"title" => "Call Aldo", **given, **values}, cause:)

  it "makes a task by hand, for oneself where nobody is named" do
    deal = make("deal")["id"]
    row =
      task(
        "record_id" => deal, "due_on" => "2026-11-25", "due_at" => "09:00", "priority" => "high", "way" => "call",
        "text" => "Ask for the keys"
      )
    expect(row).to include(
      assignee: "hollie", team: "front_office", made_by: "hollie", due_on: Date.new(2026, 11, 25), due_minutes: 540,
      due_at: Time.utc(2026, 11, 25, 9), priority: 2, record_id: deal
    )
    expect(root.history.of_task(row[:id]).map { |entry| entry["what"] }).to eq(["task_made"])
  end

  it "answers bad values with a sentence at the field" do
    {
      {"title" => " "} => "title", {"due_on" => "2026-02-31"} => "due_on",
      {"due_on" => "2026-11-25", "due_at" => "25:00"} => "due_at", {"assignee" => "gone"} => "assignee",
      {"queue" => "nowhere"} => "queue", {"way" => "fax"} => "way", {"priority" => "soon"} => "priority",
      {"record_id" => 999_999} => "record_id", {"web_link" => "javascript:1"} => "web_link"
    }.each { |given, field| expect(refused { task(given) }.keys).to eq([field]) }
  end

  it "is finished with one of its answers, once, with how long it took in working time" do
    publish(
      survey_rule(
        "branches" => [
          {
            "do" => [
              {
                "action" => "task", "title" => "Call",
                "assign" => {"to" => "person", "person" => "hollie"}, "answers" => %w[Yes No]
              }
            ]
          }
        ]
      )
    )
    make("deal", "stage" => "survey_booked")
    work
    id = root.worklist.open(assignee: "hollie").first[:id]
    expect(refused { root.tasks.finish(id, cause:) }).to eq("answer" => "Choose how it went: Yes, No.")
    done = root.tasks.finish(id, answer: "No", note: "Rang twice.", cause: cause(at: Time.utc(2026, 11, 25, 9)))
    expect(done).to include(
      state: "done", open: false, answer: "No", note: "Rang twice.", done_by: "hollie", took_minutes: 389
    )
    expect { root.tasks.finish(id, answer: "No", cause:) }.to raise_error(
      Yenvo::Store::Conflict, /was done by Hollie Banner already/
    )
  end

  it "is put off, passed on, dropped and taken, each in the journal" do
    id = task[:id]
    expect(refused { root.tasks.put_off(id, on: "someday", cause:) }.keys).to eq(["due_on"])
    expect(root.tasks.put_off(id, on: "2026-12-01", at: "10:30", cause:)).to include(
      due_on: Date.new(2026, 12, 1), due_minutes: 630
    )
    expect(refused { root.tasks.pass_on(id, cause:) }).to eq("assignee" => "Choose who shall do it.")
    expect(root.tasks.pass_on(id, queue: "yard_work", cause:)).to include(
      assignee: nil, queue: "yard_work", team: "yard_crew"
    )
    expect(root.tasks.take(id, cause: cause("wen"))).to include(assignee: "wen", queue: "yard_work")
    expect { root.tasks.take(id, cause: cause("tobias")) }.to raise_error(
      Yenvo::Store::Conflict, /Wen Zhao has taken this task already/
    )
    expect(root.tasks.drop(id, note: "Twice in the list.", cause: cause("wen"))).to include(
      state: "dropped", note: "Twice in the list."
    )
    expect(root.history.of_task(id).map { |entry| entry["what"] }).to eq(
      %w[task_dropped task_changed task_changed task_changed task_made]
    )
  end

  it "knows the team of a person who has changed it" do
    expect(task("assignee" => "wen")[:team]).to eq("yard_crew")
    db[:people].where(key: "wen").update(team: "accounts")
    root.setup_store.changed(who: "maren", now: Database::NOW)
    expect(task("assignee" => "wen")[:team]).to eq("accounts")
  end

  it "stands in the worklist by due date, those without one last, page by page" do
    days = ["2026-11-26", nil, "2026-11-24", "2026-11-25", nil]
    days.each_with_index { |day, i| task("title" => "Task #{i}", "due_on" => day) }
    titles = []
    after = nil
    loop do
      page = root.worklist.open(assignee: "hollie", after:, limit: 2)
      titles.concat(page.map { |row| row[:title] })
      break if page.size < 2

      after = {"due_at" => Yenvo::Core::Reading.moment(page.last[:due_at]), "id" => page.last[:id]}
    end
    expect(titles).to eq(["Task 2", "Task 3", "Task 0", "Task 1", "Task 4"])
    expect(root.worklist.counts("hollie", now: Time.utc(2026, 11, 26, 12))).to eq(open: 5, late: 2)
  end

  describe "what a task says" do
    said = {
      "lines" => "Call Aldo back", "line" => "Berth 4", "text" => "Ask for the keys",
      "link" => "https://example.org/a", "day" => "2026-12-01",
      "moment" => "2026-12-01T08:00:00.000000Z", "number" => 3, "answers" => %w[Yes No]
    }

    Yenvo::Core::Schema::TaskField.of("edit").each do |field|
      it "#{field.key} can be given, is shown, can be changed and taken back" do
        value = (field.type == "due") ? "2026-12-02" : said[field.type] || field.choices.last
        made = task(field.column => value)
        shown = Yenvo::Store::TaskColumns.shown(made)[field.column.to_sym]
        expect(shown).to eq(value) if field.stands?("new")
        changed = task
        root.tasks.edit(changed[:id], {field.column => value}, cause:)
        after = Yenvo::Store::TaskColumns.shown(root.tasks.find!(changed[:id]))
        expect(after[field.column.to_sym]).to eq(value)
        root.tasks.take_back(changed[:id], cause:)
        back = Yenvo::Store::TaskColumns.shown(root.tasks.find!(changed[:id]))
        expect(back).to eq(Yenvo::Store::TaskColumns.shown(changed))
      end
    end
  end
end
