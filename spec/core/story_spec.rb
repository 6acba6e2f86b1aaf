# frozen_string_literal: true

RSpec.describe "Yenvo::Core::Story" do
  def story(what, detail = {}, who: "maren", changes: [], kind: "deal")
    entry = {"what" => what, "who" => who, "kind" => kind, "detail" => detail, "changes" => changes}
    Yenvo::Core::Story.new(a_schema, entry)
  end

  def change(field, label, from, to) = {"field" => field, "label" => label, "from" => from, "to" => to}

  # All that the entries of each kind say, and how it reads.
  task = {"title" => "Call Aldo"}
  examples = {
    "record_made" => [[{}, "Maren Oduya made the deal"], [{"door" => "form"}, "A form came in and made the deal"]],
    "record_changed" => [[{}, "Maren Oduya changed the deal"]],
    "record_removed" => [[{"title" => "Sallow"}, "Maren Oduya took away Sallow"]],
    "record_restored" => [[{}, "Maren Oduya brought the deal back"]],
    "record_merged" => [
      [{"titles" => ["Aldo"]}, "Maren Oduya merged Aldo into this deal"],
      [{"titles" => %w[Aldo Bo Cy]}, "Maren Oduya merged Aldo, Bo and Cy into this deal"]
    ],
    "merged_away" => [[{"record" => 4, "title" => "Sallow"}, "Maren Oduya merged it into Sallow"]],
    "record_parted" => [[{"titles" => ["Aldo"]}, "Maren Oduya parted it from Aldo again"]],
    "record_erased" => [[{}, "Maren Oduya erased the deal for good"]],
    "taken_off_list" => [[{"title" => "Sallow"}, "Maren Oduya took it off Sallow"]],
    "linked" => [[{"record" => 4, "title" => "Sallow"}, "Maren Oduya linked Sallow"]],
    "unlinked" => [[{"record" => 4, "title" => "Sallow"}, "Maren Oduya took away the link with Sallow"]],
    "put_on_list" => [
      [{"record" => 4, "list" => "launch_roster"}, "Maren Oduya put it on Launch roster"],
      [{"record" => 4, "list" => "gone"}, "Maren Oduya put it on a list"]
    ],
    "interaction_logged" => [
      [{"way" => "call", "text" => "Rang"}, "Maren Oduya logged a call. Rang"],
      [{"way" => "email", "text" => "Wrote"}, "Maren Oduya logged an e-mail. Wrote"]
    ],
    "note_edited" => [[{"text" => "Keys"}, "Maren Oduya changed a note. Keys"]],
    "started" => [
      [{"name" => "Tidy"}, "Maren Oduya started the rule Tidy"],
      [{"name" => "Tidy", "job" => 3}, "Maren Oduya started the rule Tidy on all that match"]
    ],
    "told" => [[{"text" => "Wen: come"}, "Maren Oduya told: Wen: come"]],
    "message_written" => [
      [{"text" => "Mail to Aldo: Hello", "state" => "sent"}, "Maren Oduya wrote: Mail to Aldo: Hello · sent"],
      [{"text" => "Mail to Aldo: Hello"}, "Maren Oduya wrote: Mail to Aldo: Hello"]
    ],
    "timer_fired" => [
      [{"timer" => "quiet", "name" => "Quiet"}, "It was quiet: Quiet"],
      [{"timer" => "new", "name" => "Later"}, "A timer fired: Later"],
      [
        {"timer" => "date", "name" => "Due", "title" => "Call", "late" => 5, "due" => "2026-11-24T08:00:00.000000Z"},
        "A date came near: Due · Call late, it was due Tue 24 Nov 2026 08:00"
      ]
    ],
    "task_made" => [
      [{**task, "assignee" => "maren"}, "Maren Oduya made the task Call Aldo for Maren Oduya"],
      [{**task, "queue" => "callbacks"}, "Maren Oduya made the task Call Aldo for the queue Callbacks"],
      [task, "Maren Oduya made the task Call Aldo for nobody"]
    ],
    "task_done" => [
      [task, "Call Aldo done by Maren Oduya"],
      [{**task, "answer" => "Yes", "note" => "Soon"}, "Call Aldo done by Maren Oduya, answer: Yes · Soon"]
    ],
    "task_dropped" => [[{**task, "note" => "Gone"}, "Maren Oduya dropped Call Aldo · Gone"]],
    "task_late" => [[task, "Call Aldo got late"]],
    "task_changed" => [
      [{**task, "taken_back" => "task_done"}, "Maren Oduya took the last step of Call Aldo back"],
      [{**task, "undone" => true}, "Maren Oduya put Call Aldo back to what it was"],
      [{**task, "reopened" => true, "state" => "open"}, "Maren Oduya opened Call Aldo again"],
      [{**task, "due_on" => "2026-12-01"}, "Maren Oduya put off Call Aldo to Tue 1 Dec 2026"],
      [
        {**task, "priority" => "high", "due_on" => "2026-12-01"},
        "Maren Oduya changed Call Aldo to high priority, due Tue 1 Dec 2026"
      ],
      [{**task, "state" => "waiting"}, "Maren Oduya changed Call Aldo, waiting"],
      [{**task, "edited" => %w[title location]}, "Maren Oduya changed Call Aldo: title, where"],
      [
        {**task, "assignee" => "maren", "was" => "callbacks", "changed" => ["assignee"]},
        "Maren Oduya took Call Aldo from the queue Callbacks"
      ],
      [
        {**task, "assignee" => "hollie", "was" => "maren", "changed" => ["assignee"]},
        "Maren Oduya passed Call Aldo on to Hollie Banner, from Maren Oduya"
      ]
    ],
    "commented" => [[{**task, "text" => "Well?"}, "Maren Oduya about Call Aldo: Well?"]],
    "file_added" => [
      [{**task, "text" => "a.pdf"}, "Maren Oduya added the file a.pdf at Call Aldo"],
      [{"text" => "a.pdf"}, "Maren Oduya added the file a.pdf"]
    ],
    "file_removed" => [[{**task, "text" => "a.pdf"}, "Maren Oduya took away the file a.pdf at Call Aldo"]],
    "kit_begun" => [[{"kit" => "Launch"}, "Begun: the kit Launch"]],
    "kit_done" => [[{"kit" => "Launch"}, "Finished: the kit Launch"]],
    "kit_stopped" => [[{"kit" => "Launch"}, "Stopped: the kit Launch"]],
    "kit_passed" => [[{"kit" => "Launch", "task" => "Rig"}, "Skipped in the kit Launch: Rig"]],
    "kit_moved_on" => [[{"kit" => "Launch", "version" => 2}, "Goes on by version 2: the kit Launch"]],
    "kit_stuck" => [[{"kit" => "Launch", "why" => "No owner."}, "Cannot go on: the kit Launch. No owner."]],
    "kit_dated" => [
      [
        {"kit" => "Launch", "why" => "Launch date", "to" => "x", "moved" => [{"title" => "Rig"}]},
        "Launch date moved: 1 open task of Launch has another date"
      ],
      [{"kit" => "Launch", "why" => "hand", "moved" => []}, "By hand: 0 open tasks of Launch have another date"]
    ]
  }

  it "has an example of each thing that happens" do
    expect(examples.keys).to match_array(Yenvo::Core::Story::WORDED.keys)
  end

  examples.each do |what, all|
    all.each do |detail, words|
      it("says of #{what}: #{words}") { expect(story(what, detail).to_s).to eq(words) }
    end

    it "says something of #{what} whatever its entry lacks" do
      expect(story(what, {}, who: nil, kind: "gone").to_s).not_to be_empty
    end
  end

  it "tells a move from the rest of a change, with what it is now in strong" do
    said = story(
      "record_changed",
      changes: [change("value", "Value", "€5", "€6"), change("stage", "Stage", "Enquiry", "Quoted")]
    )
    expect(said.to_s).to eq("Maren Oduya moved the deal from Enquiry to Quoted; also changed Value from €5 to €6")
    expect(said.pieces.filter_map { |piece| piece["strong"] }).to eq(%w[Quoted €6])
    one = story("record_changed", changes: [change("value", "Value", "€5", "€6"), change("a", "A", "1", "2")])
    expect(one.to_s).to eq("Maren Oduya changed Value from €5 to €6, A from 1 to 2")
  end

  it "says below it what rules set before the save, and which dates have moved" do
    rules = [{"id" => 3, "name" => "Sums", "words" => ["Deposit → €5", "Stage → Quoted"]}]
    made = story("record_made", {"rules" => rules})
    expect(made.lines).to eq(["before the save, Sums: Deposit → €5; Stage → Quoted"])
    moved = [{"title" => "Rig", "from" => "2026-12-01", "to" => nil}]
    dated = story("kit_dated", {"kit" => "Launch", "why" => "Date", "moved" => moved, "kept" => ["Call"]})
    expect(dated.lines).to eq(["Rig: Tue 1 Dec 2026 becomes no date", "Call: dated by hand, so it stays"])
  end

  it "stands behind because" do
    because = [story("timer_fired", {"timer" => "date", "name" => "Due"}), story("task_late", {"title" => "A hull"})]
    expect(because.map(&:clause)).to eq(["a date came near: Due", "A hull got late"])
    expect(story("record_made").clause).to eq("Maren Oduya made the deal")
  end

  it "says who did what it does not know" do
    expect(story("moon_rose").to_s).to eq("Maren Oduya: moon rose")
  end
end
