# frozen_string_literal: true

require "tmpdir"

# Kits against a real database: published, used, gone on with, dated anew, stopped.
RSpec.describe "Kits" do
  include KitWords

  it "is used from a record by hand, and goes on by answers to its end, each decision taken" do
    use(launch, deal)
    expect(open_titles).to eq(["Book a hoist slot for Quiet Hour", "Look over the hull"])
    expect(db[:tasks].where(title: "Look over the hull").first).to include(
      assignee: "ines", due_on: Date.new(2026, 12, 23), kit_id: launch[:id], kind: "deal"
    )
    finish("Look over the hull", "Needs work")
    expect(open_titles.last).to eq("Quote the extra work")
    finish("Quote the extra work")
    finish("Did the owner agree?", "Yes")
    expect(open_titles).to eq(["Book a hoist slot for Quiet Hour", "Antifoul"])
    finish("Antifoul")
    finish("Step the mast")
    expect(open_titles).to eq(["Book a hoist slot for Quiet Hour"])
    finish("Book a hoist slot for Quiet Hour")
    expect(db[:tasks].where(title: "Launch").first).to include(due_on: Date.new(2027, 1, 18), due_minutes: 600)
    finish("Launch")
    expect(copy).to include(state: "done")
    expect(root.copies.state_of(copy).progress.not_needed).to eq(%w[stop])
  end

  describe "with parts of a task" do
    def with_parts = Builders.with_parts(Builders.launch_kit(target: "launch_date", queue: "yard_work"), "yard_work")

    def shown(row) =
      Yenvo::Web::Present.new(root, now: Database::NOW, person: root.people.find("maren")).copies([row])[0]

    def parts_of(title) = db[:tasks].where(parent_id: db[:tasks].where(title:).get(:id)).select_order_map(:title)

    it "brings them with their task, under it, and counts them on it" do
      use(publish_kit(with_parts), deal)
      hoist = "Book a hoist slot for Quiet Hour"
      expect(open_titles).to eq([hoist, "Ring the crane", "Check the slings", "Look over the hull"])
      expect(parts_of(hoist)).to eq(["Check the slings", "Ring the crane"])
      finish("Ring the crane")
      expect(parts_of(hoist)).to eq(["Check the slings", "Pay the crane", "Ring the crane"])
      tasks = shown(copy)[:tasks]
      expect(tasks.find { |task| task[:key] == "hoist" }[:parts]).to eq(done: 1, all: 3)
      expect(tasks.find { |task| task[:key] == "crane" }).to include(
        under: "hoist", parts: nil, comes: "with 1, whose part it is"
      )
      expect(root.tasks.part_counts([db[:tasks].where(title: hoist).get(:id)]).values).to eq([{done: 1, all: 3}])
    end

    it "needs none where their task is not needed, or is skipped" do
      use(publish_kit(with_parts), deal)
      finish("Look over the hull", "Sound")
      progress = root.copies.state_of(copy).progress
      expect(progress.not_needed).to eq(%w[quote agreed yes_owner stop])
      root.copies.skip(copy[:id], "hoist", cause:)
      parts = db[:tasks].where(title: ["Ring the crane", "Check the slings"])
      expect(parts.select_map(:state)).to eq(%w[dropped dropped])
      expect(root.copies.state_of(copy).progress.of("pay")).to eq(:over)
      expect(open_titles).to eq(["Antifoul"])
    end

    it "stands parts under their task when a rule uses the kit on many records at once" do
      publish_kit(with_parts)
      uses = {"action" => "kit", "kit" => "launch"}
      publish("trigger" => {"when" => "record_made"}, "branches" => [{"do" => [uses]}])
      made = Array.new(2) { |i| make("deal", "title" => "Boat #{i}", "launch_date" => "2027-01-18")["id"] }
      work
      made.each_with_index { |_, i| expect(parts_of("Book a hoist slot for Boat #{i}").size).to eq(2) }
    end

    it "says what parts there cannot be" do
      {
        {"under" => "antifoul"} => "must be a task before it in the same phase",
        {"under" => "crane"} => "must be a task that is no part itself",
        {"under" => "slings"} => "must be a task before it in the same phase"
      }.each do |wrong, sentence|
        plain = with_parts
        plain["phases"][0]["tasks"][2].merge!(wrong)
        problems, = Yenvo::Core::Kits::Checks.look(kit_of(plain), root.schema)
        expect(problems.map { |problem| [problem.where, problem.text] }.flatten.join(" ")).to include(
          "phases[1].tasks[3].under", sentence
        )
      end
    end
  end

  it "fills in a paper when its task comes and attaches it, by a kit and by a rule" do
    Dir.mktmpdir do |folder|
      root.files = folder
      plain = Builders.launch_kit(target: "launch_date", queue: "yard_work")
      plain["phases"][0]["tasks"][0]["paper"] = {
        "name" => "Sheet/{{ record.title }}", "text" => "{{ record.title }} on {{ record.launch_date }}"
      }
      use(publish_kit(plain), deal)
      publish(
        {
          "trigger" => {"when" => "record_changed", "field" => "value"},
          "branches" => [
            {
              "do" => [
                {
                  "action" => "task", "title" => "Quote", "assign" => {"to" => "person", "person" => "wen"},
                  "paper" => {"name" => "Quote", "text" => "{{ record.value }}"}
                }
              ]
            }
          ]
        }
      )
      change(deal, {"value" => 1200})
      work
      found = db[:attachments].order(:id).all
      expect(found.map { |row| [row[:name], File.read(root.attachments.open(row[:id])[1])] }).to eq(
        [["Sheet-Quiet Hour.txt", "Quiet Hour on Mon 18 Jan 2027"], %w[Quote.txt €1,200]]
      )
      expect(found.map { |row| db[:tasks].where(id: row[:task_id]).get(:title) }).to eq(
        ["Book a hoist slot for Quiet Hour", "Quote"]
      )
    end
  end

  it "leaves nothing half done when what a task opens is refused, and says so on the record" do
    publish(
      {
        "record" => "ticket", "run" => "before_save", "trigger" => {"when" => "record_made"},
        "branches" => [
          {"do" => [{"action" => "set", "values" => [{"field" => "title", "text" => "{{ record.found }}" * 6}]}]}
        ]
      }
    )
    plain = Builders.launch_kit(target: "launch_date", queue: "yard_work")
    plain["phases"][1]["tasks"][0]["opens"] = {
      "kind" => "ticket",
      "values" => [{"field" => "title", "text" => "Rig"}, {"field" => "found", "text" => "x" * 3_900}], "link" => "boat"
    }
    use(publish_kit(plain), deal)
    finish("Look over the hull", "Sound")
    expect([open_titles, db[:records].where(kind: "ticket").count, history(deal)]).to match(
      [["Book a hoist slot for Quiet Hour"], 0, include("kit_stuck")]
    )
  end

  it "is used by a rule, once at a time on a record, in one go for many" do
    launch
    publish(
      {
        "trigger" => {"when" => "stage_entered", "stages" => ["in_the_yard"]},
        "branches" => [{"do" => [{"action" => "kit", "kit" => "launch"}]}]
      }
    )
    deals = Array.new(3) { |i| make("deal", "title" => "Boat #{i}", "launch_date" => "2027-01-18")["id"] }
    deals.each { |id| change(id, {"stage" => "in_the_yard"}) }
    work
    expect([db[:kit_copies].count, db[:tasks].count, root.runs.list.map { |run| run[:task_count] }.uniq]).to eq(
      [3, 6, [2]]
    )
    change(deals[0], {"stage" => "quoted"})
    change(deals[0], {"stage" => "in_the_yard"})
    work
    expect([db[:kit_copies].count, root.runs.find!(root.runs.list.first[:id])[:actions]]).to match(
      [3, /in use there already/]
    )
    finish("Look over the hull", "Sound")
    expect(db[:tasks].where(title: "Antifoul").first).to include(record_id: deals[0], run_id: root.runs.list.last[:id])
    items =
      root.undo.run(
        [root.runs.find!(root.runs.list(rule: root.runs.list.last[:rule_id]).reverse[1][:id])], cause: cause("maren")
      )
    expect(items.map(&:back)).to eq([true, true, true])
    expect(db[:kit_copies].where(record_id: deals[1]).get(:state)).to eq("stopped")
  end

  it "is used beside tasks of the same rule and of others in one turn, and all its tasks belong to it" do
    launch
    publish(
      {
        "trigger" => {"when" => "record_made"},
        "branches" => [
          {"do" => [{"action" => "task", "title" => "Before", "assign" => {"to" => "person", "person" => "wen"}}]}
        ]
      }
    )
    publish(
      {
        "trigger" => {"when" => "record_made"},
        "branches" => [
          {
            "do" => [
              {"action" => "task", "title" => "Beside", "assign" => {"to" => "person", "person" => "wen"}},
              {"action" => "kit", "kit" => "launch"}
            ]
          }
        ]
      }
    )
    2.times { make("deal", "launch_date" => "2027-01-18") }
    work
    expect(db[:tasks].exclude(copy_id: nil).select_order_map(%i[kit_task kit_id])).to eq(
      [["hoist", launch[:id]]] * 2 + [["hull", launch[:id]]] * 2
    )
    expect(db[:tasks].where(copy_id: nil).count).to eq(4)
  end

  it "is used on another record and on one just made" do
    launch
    publish(
      {
        "record" => "ticket", "trigger" => {"when" => "record_made"},
        "branches" => [{"do" => [{"action" => "kit", "kit" => "launch", "of" => "boat"}]}]
      }
    )
    make("ticket", "title" => "Snag", "boat" => deal)
    work
    expect(copy).to include(record_id: deal, anchor_field: "launch_date")
    expect(open_titles.size).to eq(2)
  end

  it "opens a sub-ticket that has a kit of its own, which the parent task shows" do
    rigging =
      publish_kit(
        {
          "format" => "yenvo-kit/1", "name" => "Rigging job", "record" => "ticket",
          "phases" => [
            {
              "name" => "",
              "tasks" => [
                {"key" => "a", "title" => "Unwrap", "assign" => {"to" => "queue", "queue" => "yard_work"}},
                {
                  "key" => "b", "title" => "Fit",
                  "assign" => {"to" => "queue", "queue" => "yard_work"}, "after" => [[{"task" => "a"}]]
                }
              ]
            }
          ]
        }
      )
    plain = Builders.launch_kit(target: "launch_date", queue: "yard_work")
    plain["phases"][0]["tasks"][0]["opens"] = {
      "kind" => "ticket",
      "values" => [
        {"field" => "title", "text" => "Rig {{ record.title }}"}, {"field" => "severity", "value" => "minor"}
      ],
      "same" => ["owner"], "link" => "boat", "kit" => rigging[:key]
    }
    use(publish_kit(plain), deal)
    ticket = db[:records].where(kind: "ticket").first
    hoist = db[:tasks].where(kit_task: "hoist").first
    expect([hoist[:opened_id], ticket[:title], ticket[:owner]]).to eq([ticket[:id], "Rig Quiet Hour", "hollie"])
    expect(db[:kit_copies].where(record_id: ticket[:id]).get(:task_id)).to eq(hoist[:id])
    finish("Unwrap")
    expect(root.copies.children([hoist[:id]])[hoist[:id]]).to include(done: 1, all: 2)
    finish("Fit")
    expect(root.copies.children([hoist[:id]])[hoist[:id]]).to include(done: 2, all: 2, state: "done")
  end
end
