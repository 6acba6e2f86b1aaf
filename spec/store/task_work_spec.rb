# frozen_string_literal: true

require "tmpdir"

# What people do with tasks beyond doing them.
RSpec.describe "Working tasks" do
  def task(given = {}, who: "hollie", **values) =
    root.tasks.make({"title" => "Call Aldo", **given, **values}, cause: cause(who))

  def in_queue(title, queue = "yard_work", **more) =
    task("title" => title, "queue" => queue, **more.transform_keys(&:to_s))

  it "says that a task is begun or waits, edits what it says, and takes the last step back" do
    one = task("priority" => "low")
    expect(root.tasks.set_state(one[:id], "waiting", cause:)[:state]).to eq("waiting")
    expect(refused { root.tasks.set_state(one[:id], "done", cause:) }.keys).to eq(["state"])
    expect(
      root.tasks.edit(one[:id], {"title" => "Call Ilse", "priority" => "urgent", "web_link" => nil}, cause:)
    ).to include(title: "Call Ilse", priority: 3)
    expect(refused { root.tasks.edit(one[:id], {"title" => " "}, cause:) }.keys).to eq(["title"])
    root.tasks.put_off(one[:id], on: "2026-12-01", cause:)
    expect(root.tasks.take_back(one[:id], cause:)).to include(due_on: nil, title: "Call Ilse")
    root.tasks.finish(one[:id], note: "Done", cause:)
    expect(root.tasks.take_back(one[:id], cause:)).to include(
      state: "waiting", open: true, note: nil, done_at: nil, done_by: nil
    )
    root.tasks.pass_on(one[:id], assignee: "wen", cause:)
    expect(refused { root.tasks.take_back(one[:id], cause: cause("wen")) }["task"]).to match(
      /Hollie Banner has changed “Call Ilse” since/
    )
  end

  it "logs the answer as an interaction of its way, where the template says so" do
    deal = make("deal")["id"]
    publish(
      {
        "trigger" => {"when" => "record_changed"},
        "branches" => [
          {
            "do" => [
              {
                "action" => "task", "title" => "Ring", "way" => "call", "log" => true, "answers" => %w[Yes No],
                "assign" => {"to" => "person", "person" => "hollie"}
              }
            ]
          }
        ]
      }
    )
    change(deal, {"value" => 5})
    work
    root.tasks.finish(db[:tasks].where(title: "Ring").get(:id), answer: "Yes", note: "Comes on Friday", cause:)
    expect(root.interactions.of_record(deal)[0]).to include(
      way: "call", text: "Ring: Yes\nComes on Friday", who: "hollie"
    )
  end

  it "steps several at once; what one is refused, the others are not" do
    ids = Array.new(3) { task[:id] }
    root.tasks.drop(ids[1], cause:)
    done, refused = root.tasks.several([*ids, 999_999]) { |id| root.tasks.pass_on(id, assignee: "wen", cause:) }
    expect([done.map { |row| row[:assignee] }, refused.map { |one| one[:why] }]).to match(
      [%w[wen wen], [/was dropped by Hollie Banner already/, /There is no task 999999/]]
    )
  end

  it "by hand, goes by turns and by the lightest load too" do
    crew = root.schema.people.each_value.select { |person| person.team == "yard_crew" }.map(&:key)
    given = Array.new(crew.size * 2) { task("team" => "yard_crew", "team_way" => "turns")[:assignee] }
    expect(given.tally.values.uniq).to eq([2])
    expect(crew).to include(root.tasks.pass_on(task[:id], team: "yard_crew", team_way: "load", cause:)[:assignee])
    expect(refused { task("team" => "nobody", "team_way" => "turns") }.keys).to eq(["assignee"])
  end

  describe "queues" do
    it "give the most urgent first, then the one due first, and take it back" do
      in_queue("Later", due_on: "2026-12-01")
      in_queue("Sooner", due_on: "2026-11-25")
      in_queue("Urgent", due_on: "2026-12-24", priority: "urgent")
      in_queue("Elsewhere", "callbacks")
      taken = Array.new(4) { root.queues.take_next(["yard_work"], cause: cause("wen"))&.fetch(:title) }
      expect(taken).to eq(["Urgent", "Sooner", "Later", nil])
      id = db[:tasks].where(title: "Sooner").get(:id)
      expect(root.tasks.give_back(id, cause: cause("wen"))).to include(
        assignee: nil, queue: "yard_work", team: "yard_crew"
      )
      expect(refused { root.tasks.give_back(task[:id], cause:) }["task"]).to match(/was taken from no queue/)
      expect(root.queues.figures(now: Database::NOW + 3_600)["yard_work"]).to include(
        open: 1, late: 0, made: 3, oldest: Database::NOW
      )
    end

    it "never give one task to two of eight who ask at once", :committed do
      60.times { |i| in_queue("Task #{i}") }
      url = Database.url
      taken = Array.new(8) do |i|
        Thread.new do
          own = Yenvo::Store::Root.open(url, connections: 1)
          mine = []
          while (row = own.queues.take_next(["yard_work"], cause: cause("wen", at: Database::NOW + i)))
            mine << row[:id]
          end
          mine
        ensure
          own.db.disconnect
        end
      end.flat_map(&:value)
      expect([taken.size, taken.uniq.size]).to eq([60, 60])
      expect(db[:tasks].where(queue: "yard_work", assignee: nil).count).to eq(0)
    end
  end

  it "comments tell whom they name, and nobody twice" do
    one = task("record_id" => make("deal")["id"])
    root.comments.add(one[:id], "@wen and @Priya: the keys are @ the desk, ask @hollie. @wen!", cause:)
    expect(db[:notices].select_map(%i[person task_id])).to contain_exactly(["wen", one[:id]], ["priya", one[:id]])
    expect(root.comments.of(one[:id]).map { |row| row[:by] }).to eq(["hollie"])
    expect(refused { root.comments.add(one[:id], " ", cause:) }.keys).to eq(["text"])
    expect(refused { root.comments.add(one[:id], "x" * 5_000, cause:) }["text"]).to match(
      /at most 4,000 characters/
    )
  end

  it "keeps files outside the database, of known kinds only, and takes them away with their rows" do
    Dir.mktmpdir do |folder|
      root.files = folder
      one = task
      row = root.attachments.add({task_id: one[:id]}, "C:\\photos\\Hull é.png", "\x89PNG\r\n\x1A\nrest".b, cause:)
      expect(row).to include(name: "Hull é.png", type: "image/png", size: 12)
      expect(File.binread(root.attachments.open(row[:id])[1])).to start_with("\x89PNG".b)
      expect(db[:attachments].columns).not_to include(:content)
      {
        "run.exe" => "MZ", "page.html" => "<script>", "fake.pdf" => "not a pdf", "empty.txt" => "",
        "bad.txt" => "\xFF\xFE\x00".b, "big.txt" => "x" * 10_000_001
      }.each do |name, content|
        expect([name, refused { root.attachments.add({task_id: one[:id]}, name, content, cause:) }&.keys]).to eq(
          [name, ["file"]]
        )
      end
      expect(Dir[File.join(folder, "**", "*")].count { |path| File.file?(path) }).to eq(1)
    end
  end

  it "keeps presets under names of their own" do
    row = root.presets.save(nil, {"name" => "Hauling", "text" => "!haul on ___, ask ___"}, cause:)
    root.presets.save(row[:id], {"name" => "Hauling out", "text" => "!haul on ___"}, cause:)
    expect(root.presets.all.map { |one| one[:name] }).to eq(["Hauling out"])
    expect(
      refused { root.presets.save(nil, {"name" => "Hauling out", "text" => "x"}, cause:) }["name"]
    ).to match(/There is a preset “Hauling out” already/)
    expect(refused { root.presets.save(nil, {"name" => "", "text" => ""}, cause:) }.keys).to eq(%w[name text])
  end

  describe "asking first" do
    before do
      publish(
        {
          "trigger" => {"when" => "code", "code" => "!haul"},
          "branches" => [
            {
              "do" => [
                {
                  "action" => "task", "title" => "Haul {{ record.title }} on ___", "ask" => true,
                  "answers" => %w[Done Not], "assign" => {"to" => "person", "person" => "wen"}
                }
              ]
            }
          ]
        }
      )
    end

    let(:deal) { make("deal")["id"] }

    it "makes nothing until whoever caused it has filled in the blanks and sent it" do
      root.interactions.log(deal, "note", "!haul please", cause:)
      work
      expect([db[:tasks].count, root.proposals.of("hollie").size, root.proposals.of("wen").size]).to eq([0, 1, 0])
      row = root.proposals.of("hollie")[0]
      expect(root.proposals.form(row)).to include(
        "title" => "Haul Quiet Hour on ___", "assignee" => "wen", "record_id" => deal
      )
      expect(refused { root.proposals.send_off(row[:id], {}, cause:) }["title"]).to match(/has a blank still/)
      expect { root.proposals.send_off(row[:id], {}, cause: cause("wen")) }.to raise_error(Yenvo::Store::NotFound)
      made = root.proposals.send_off(row[:id], {"title" => "Haul Quiet Hour on Friday"}, cause:)
      expect(made).to include(
        title: "Haul Quiet Hour on Friday", assignee: "wen", record_id: deal, made_by: "hollie",
        rule_id: root.rules.all[0][:id]
      )
      expect(JSON.parse(made[:answers])).to eq(%w[Done Not])
      expect(refused { root.proposals.send_off(row[:id], {"title" => "Again"}, cause:) }["task"]).to match(
        /It was sent already/
      )
    end

    it "can be thrown away, and goes with the undo of its run; what nobody caused is simply made" do
      root.interactions.log(deal, "note", "!haul please", cause:)
      work
      root.proposals.throw_away(root.proposals.of("hollie")[0][:id], cause:)
      root.interactions.log(deal, "note", "!haul again", cause:)
      work
      expect(root.undo.run([root.runs.find!(root.runs.list.first[:id])], cause: cause("maren")).map(&:back)).to eq(
        [true]
      )
      expect([root.proposals.of("hollie"), db[:tasks].count]).to eq([[], 0])
      publish(
        {
          "trigger" => {"when" => "stage_entered", "stages" => ["accepted"]},
          "branches" => [
            {
              "do" => [
                {
                  "action" => "task", "title" => "Hull", "ask" => true,
                  "assign" => {"to" => "person", "person" => "wen"}
                }
              ]
            }
          ]
        }
      )
      change(deal, {"stage" => "accepted"}, who: nil)
      work
      expect(db[:tasks].select_map(:title)).to eq(["Hull"])
    end
  end

  it "the lead sees open, late, done and answer time, who is away, and passes all on with a preview" do
    3.times { |i| task("title" => "Wen's #{i}", "assignee" => "wen", "due_on" => "2026-11-20") }
    done = task("assignee" => "wen")
    root.tasks.finish(done[:id], cause: cause("wen", at: Database::NOW + 3_600))
    row = root.team_work.figures("person", now: Database::NOW + 3_600).find { |one| one[:key] == "wen" }
    expect(row).to include(open: 3, late: 3, done: 1, median_minutes: 60)
    expect(
      %w[team queue rule].map { |by| root.team_work.figures(by, now: Database::NOW + 3_600).sum { |one| one[:open] } }
    ).to eq([3, 0, 0])
    expect(root.team_work.away(Date.new(2026, 11, 24)).map { |one| one[:person] }).to include("callum")
    preview = root.team_work.preview("wen", {assignee: "tobias"}, cause: cause("maren"))
    expect([preview.map { |one| one[:to] }, db[:tasks].where(assignee: "wen", open: true).count]).to eq(
      [%w[tobias] * 3, 3]
    )
    moved, = root.team_work.pass_all("wen", {assignee: "tobias"}, cause: cause("maren"))
    expect([moved.size, db[:tasks].where(assignee: "wen", open: true).count]).to eq([3, 0])
  end

  it "finds tasks by state, person, rule, kind, priority, due and words", :committed do
    deal = make("deal")["id"]
    task("title" => "Antifoul the hull", "record_id" => deal, "due_on" => "2026-11-20", "priority" => "urgent")
    task(
      "title" => "Ring the harbour", "text" => "About the antifouling", "assignee" => "wen", "due_on" => "2026-11-24"
    )
    dropped = task("title" => "Antifoul again")
    root.tasks.drop(dropped[:id], cause:)
    find = ->(**filter) { root.worklist.list(filter, now: Database::NOW).map { |row| row[:title] } }
    expect(find.call(text: "antif")).to eq(["Antifoul the hull", "Ring the harbour"])
    expect(find.call(text: "antifoul hull")).to eq(["Antifoul the hull"])
    expect(find.call(text: "+-*\"( a")).to eq(["Antifoul the hull", "Ring the harbour"])
    expect(find.call(state: "late")).to eq(["Antifoul the hull"])
    expect(find.call(due: "today")).to eq(["Ring the harbour"])
    expect(find.call(kind: "deal", priority: "urgent", assignee: "hollie")).to eq(["Antifoul the hull"])
    expect(find.call(state: "dropped", text: "antifoul")).to eq(["Antifoul again"])
  end
end
