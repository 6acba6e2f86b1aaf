# frozen_string_literal: true

# Small things that use and attack have found, each with its kin.
RSpec.describe "What has been mended in the store" do
  def task_with_files =
    @task_with_files ||= root.tasks.make({"title" => "Papers", "assignee" => "wen"}, cause:)[:id]

  def attach(name, content = "Under the mat") = root.attachments.add({task_id: task_with_files}, name, content, cause:)

  around do |example|
    Dir.mktmpdir do |folder|
      kept, root.files = root.files, folder
      example.run
      root.files = kept
    end
  end

  describe "files" do
    it "have names without what cannot be seen or leads elsewhere" do
      expect(attach("..\\up/\u202Ekeys\u0000\u200B.txt")[:name]).to eq("keys.txt")
    end

    it "have room for so much at a task, and no more" do
      stub_const("Yenvo::Store::Attachments::MOST_BYTES", 20)
      attach("one.txt")
      expect(refused { attach("two.txt") }["file"]).to match(/together/)
      expect(Dir[File.join(root.files, "**", "*")].count { |path| File.file?(path) }).to eq(1)
    end

    it "leave nothing behind when the transaction fails or is tried again, or the disk is full" do
      calls = 0
      allow(root.journal).to receive(:add).and_wrap_original { |whole, *given, **more|
        ((calls += 1) == 1) ? raise(Yenvo::Store::Refused.at("file" => "no")) : whole.call(*given, **more)
      }
      expect(refused { attach("one.txt") }).to eq("file" => "no")
      expect(Dir[File.join(root.files, "**", "*")].count { |path| File.file?(path) }).to eq(0)
      allow(File).to receive(:binwrite).and_raise(Errno::ENOSPC)
      allow(Yenvo::Store::Breakage::LOG).to receive(:error)
      expect(refused { attach("two.txt") }["file"]).to match(
        /could not be kept, since the folder of files takes no more/
      )
    end
  end

  it "leaves no file of a run behind that fails after it", :committed do
    paper = {
      "action" => "task", "title" => "Papers", "paper" => {"name" => "Note", "text" => "About {{ record.title }}"},
      "assign" => {"to" => "queue", "queue" => "yard_work"}
    }
    publish(
      survey_rule(
        "name" => "Fails",
        "branches" => [
          {
            "do" => [
              paper,
              {
                "action" => "record", "kind" => "ticket",
                "values" => [{"field" => "title", "text" => "{{ record.survey_type }}"}]
              }
            ]
          }
        ]
      )
    )
    make("deal", "stage" => "survey_booked")
    work
    expect(
      [
        db[:runs].get(:state), db[:attachments].count,
        Dir[File.join(root.files, "**", "*")].count { |path| File.file?(path) }
      ]
    ).to eq(["failed", 0, 0])
  end

  it "takes absences of days that there are, within bounds" do
    read = ->(from, to) { refused { Yenvo::Store::PersonForm.absences([{"from" => from, "to" => to}]) } }
    expect(read.call("2026-12-01", "2026-12-05")).to be_nil
    [
      %w[-4712-01-01 2026-01-01], %w[2026-01-01 99999-01-01], ["x" * 70_000, "y"], %w[1500-01-01 1500-01-02],
      %w[2026-01-01 2200-01-01], [nil, 5]
    ].each do |from, to|
      expect(read.call(from, to)["absences"]).to match(/\AAn absence/).and(satisfy { |text| text.size < 120 })
    end
  end

  it "finds nothing for signs alone, in lists, in the search and among tasks" do
    make("deal")
    task_with_files
    query =
      Yenvo::Store::Lists::Query.new(
        kind: "deal", filters: {}, search: "!!! --", sort: "changed", down: true, after: nil, limit: 50
      )
    expect(
      [
        root.lists.page(query)[:rows], root.lists.count(query), root.lists.find("!!!"),
        root.worklist.list({text: "?!"}, now: Database::NOW)
      ]
    ).to eq([[], 0, [], []])
  end

  it "names both persons who share a name instead of taking the first" do
    db[:people].where(key: "osk").update(name: "Wen Zhao")
    root.setup_store.changed(who: "maren", now: Database::NOW)
    root.forget
    expect(refused { make("deal", "surveyor" => "Wen Zhao") }["surveyor"]).to match(
      /Wen Zhao \(osk\) and Wen Zhao \(wen\) have that name/
    )
    expect(make("deal", "surveyor" => "wen")["surveyor"]).to eq("wen")
  end

  it "lets no code fire that was typed into a call, when that is written or edited" do
    publish(
      "name" => "Haul", "trigger" => {"when" => "code", "code" => "!haul"},
      "branches" => [
        {"do" => [{"action" => "task", "title" => "Haul", "assign" => {"to" => "queue", "queue" => "yard_work"}}]}
      ]
    )
    id = make("deal")["id"]
    root.interactions.log(id, "call", "Said !haul", cause:)
    root.interactions.log(id, "call", "Said", cause:)
    root.interactions.edit(root.interactions.of_record(id)[0][:id], "Said !haul", record: id, cause:)
    work
    expect(db[:tasks].count).to eq(0)
    root.interactions.log(id, "note", "Please", cause:)
    root.interactions.edit(root.interactions.of_record(id)[0][:id], "Please !haul", record: id, cause:)
    work
    expect(db[:tasks].count).to eq(1)
  end

  it "watches a change of texts without case, and of several choices by each" do
    task = [{"action" => "task", "title" => "Seen", "assign" => {"to" => "queue", "queue" => "yard_work"}}]
    publish(
      "name" => "Texts", "record" => "contact",
      "trigger" => {"when" => "record_changed", "field" => "berth", "from" => ["a 1"], "to" => ["B 2"]},
      "branches" => [{"do" => task}]
    )
    id = make("contact", "berth" => "A 1")["id"]
    change(id, {"berth" => "b 2"})
    work
    expect(db[:tasks].count).to eq(1)
  end

  it "counts a field up from what it is when it is written, however slow the worker is" do
    publish(
      "name" => "Count", "trigger" => {"when" => "interaction_logged"},
      "branches" => [
        {"do" => [{"action" => "set", "values" => [{"field" => "value", "formula" => "or_else(value, 0) + 1"}]}]}
      ]
    )
    slow, fast = Array.new(2) { make("deal")["id"] }
    5.times { root.interactions.log(slow, "note", "x", cause:) }
    work
    5.times { root.interactions.log(fast, "note", "x", cause:) && work }
    expect([slow, fast].map { |id| root.records.find!(id)["value"] }).to eq([5, 5])
    expect(
      db[:runs].where(record_id: slow).select_map(:actions).flat_map { |text| JSON.parse(text)[0]["notes"] }
    ).to include("Value had changed since, so it became €3")
  end

  it "runs once in some days though the clock has gone back" do
    publish(
      survey_rule(
        "trigger" => {"when" => "record_changed", "field" => "value"}, "how_often" => "once_in_days", "every_days" => 7
      )
    )
    id = make("deal")["id"]
    change(id, {"value" => 1}, at: Database::NOW)
    work
    change(id, {"value" => 2}, at: Database::NOW - 3600)
    work
    expect(db[:tasks].count).to eq(1)
  end

  it "says when a record that a kit opens cannot have its own kit" do
    reach_outside
    %w[01-berth-papers 02-power-and-water 03-mooring-lines 04-gate-and-keys 10-new-berth-holder].each do |name|
      publish_demo_kit(name)
    end
    kit = root.kits.compiled(db[:kits].where(key: "new-berth-holder").get(:version_id))
    person = make("contact", "title" => "Aldo")["id"]
    allow_any_instance_of(Yenvo::Core::Kits::Book).to receive(:compiled).and_return(nil)
    expect { root.copies.begin(kit, person, cause:) }.to raise_error(
      Yenvo::Core::Error, /could not be opened with its kit: there is no published kit/
    )
  end

  it "leaves a link out that came out as something to run" do
    if root.schema.kind("deal").field("notes")
      publish(
        "name" => "Link", "trigger" => {"when" => "record_made"},
        "branches" => [
          {
            "do" => [
              {
                "action" => "task", "title" => "Look", "web_link" => "{{ record.notes }}",
                "assign" => {"to" => "queue", "queue" => "yard_work"}
              }
            ]
          }
        ]
      )
    end
    publish(
      "name" => "Link 2", "record" => "contact", "trigger" => {"when" => "record_made"},
      "branches" => [
        {
          "do" => [
            {
              "action" => "task", "title" => "Look", "web_link" => "{{ record.club }}",
              "assign" => {"to" => "queue", "queue" => "yard_work"}
            }
          ]
        }
      ]
    )
    make("contact", "club" => "javascript:alert(1)")
    make("contact", "club" => "https://example.org/club")
    work
    expect(db[:tasks].order(:id).select_map(:web_link)).to eq([nil, "https://example.org/club"])
    expect(JSON.parse(db[:runs].order(:id).get(:actions))[0]["notes"]).to include(
      match(/javascript:alert\(1\).* no web address, so it was left out/)
    )
  end

  it "names who published when somebody else writes on an older draft" do
    row = publish(survey_rule)
    root.rules.keep_draft(row[:id], root.rules.draft_of(row), stamp: row[:draft_stamp], cause: cause("maren"))
    stale = root.rules.find!(row[:id])[:draft_stamp]
    root.rules.publish(row[:id], root.rules.draft_of(row), cause: cause("maren"))
    expect {
      root.rules.keep_draft(row[:id], root.rules.draft_of(row), stamp: stale, cause: cause("hollie"))
    }.to raise_error(Yenvo::Store::Conflict, /\AMaren Oduya changed this rule/)
  end

  it "takes plain links away again on both sides, and shows more than fit on a page" do
    stub_const("Yenvo::Store::Links::PAGE", 3)
    hub = make("deal", "title" => "Hub")["id"]
    others = Array.new(5) { |i| make("contact", "title" => "Owner #{i}")["id"] }
    others.each_with_index do |id, i|
      i.even? ? root.links.add(hub, id, cause:) : root.links.add(id, hub, cause:)
    end
    make("ticket", "title" => "Snag", "boat" => hub)
    first = root.links.around(hub, limit: 3)
    rest = root.links.around(hub, after: first.last[:id], limit: 10)
    expect([root.links.count_around(hub), (first + rest).map { |row| row[:title] }]).to eq(
      [6, ["Owner 0", "Owner 1", "Owner 2", "Owner 3", "Owner 4", "Snag"]]
    )
    root.links.remove(hub, others[1], cause:)
    expect(root.links.around(others[1])).to be_empty
    expect { root.links.remove(hub, others[1], cause:) }.to raise_error(Yenvo::Store::NotFound)
    expect(root.history.of_record(others[1])[0]).to include(
      "what" => "unlinked", "detail" => hash_including("title" => "Hub")
    )
  end

  it "finds the trail of a day long past without reading all that came after, page by page, by the moment of the run" do
    publish(survey_rule)
    make("deal", "stage" => "survey_booked")
    work
    run = db[:runs].first
    db.run "SET FOREIGN_KEY_CHECKS=0"
    # Every hour one, so that the last came 125 days later; they were written in the order of neither.
    rows =
      Array.new(3_000) do |i|
        run.except(:id).merge(
          entry_id: 1_000_000 + i, once_key: nil, at: Database::NOW + (((i * 7) % 3_000) * 3_600),
          state: (i % 3).zero? ? "failed" : "ran"
        )
      end
    db[:runs].multi_insert(rows)
    db.run "SET FOREIGN_KEY_CHECKS=1"
    [{}, {state: "failed"}, {rule: run[:rule_id]}].each do |more|
      pages = nil
      read =
        rows_read do
          first = root.runs.list(from: Database::NOW + 86_400, till: Database::NOW + (3 * 86_400), limit: 5, **more)
          pages = [
            first,
            root.runs.list(
              from: Database::NOW + 86_400, till: Database::NOW + (3 * 86_400), limit: 5, before: first.last[:id],
              **more
            )
          ]
        end
      times = pages.flatten.map { |row| row[:at] }
      step = more[:state] ? 3 : 1
      expect([times, read]).to match([times.sort.reverse.uniq, be < 200])
      expect([times.size, (times.first - times.last) / 3_600]).to eq([10, 9 * step])
    end
  end
end
