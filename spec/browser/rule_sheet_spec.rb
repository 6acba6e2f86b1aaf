# frozen_string_literal: true

require_relative "browser_helper"
require_relative "../support/hands"

# Rules of every sort, written on the sheet, and seen to work.
RSpec.describe "The rule sheet" do
  def image(id) = root.records.find!(id)
  def titles(id) = root.db[:tasks].where(record_id: id).order(:id).select_map(:title)

  def settle
    wait_until("the worker is idle") { root.waiting.count.zero? }
  end

  # Begins a rule: its name, what it is about, and what it watches.
  def begin_rule(name, kind, trigger)
    visit "/rules/new"
    expect(page).to have_field("Name of the rule")
    hand.fill "Name of the rule", name
    hand.choose "Kind of record", kind unless kind == "Deal"
    hand.choose "Trigger", trigger
  end

  def publish_it
    expect(page).to have_css("[role=tab]", text: /\AChecks( ◇)?\z/, wait: 12)
    hand.button "Publish version 1"
    expect(page).to have_text("Version 1 is on")
  end

  def open_action(row, index = 0) = hand.open("tr[data-row='#{row}'] td:last-child button:nth-of-type(#{index + 1})")

  def task_for_queue(title, queue = nil)
    hand.fill "Title", title
    hand.choose "Goes to", "a queue"
    hand.choose "Goes to: queue", queue if queue
  end

  def cell(column, test, row: 0)
    row.zero? ? column_of(column) : hand.open("[data-cell='#{row} #{column.downcase}']")
    hand.choose "Test", test
    yield
    hand.button "Done"
  end

  def column_of(name)
    hand.button "Ask about another field"
    hand.pick "Field of the new column", name
  end

  # Sets Due so many working days after the event, in the action that is open.
  def due_in(days)
    hand.choose "Field to set", "Due"
    hand.choose "Set to", "a date counted from another"
    hand.fill "Due: how many", days.to_s
  end

  def severity_gives_due
    begin_rule "Severity gives due", "Ticket", "is made"
    hand.choose "When it runs", "before the save"
    cell("Severity", "is") { hand.choose "Severity", "Minor" }
    open_action(0)
    hand.choose "What it does", "Set fields"
    due_in(10)
    hand.button "Add a branch"
    cell("Severity", "is one of", row: 1) { hand.several "Severity", "Serious", "Unsafe" }
    open_action(1)
    due_in(3)
    publish_it
  end

  def unsafe_hurries
    begin_rule "A snag turns out unsafe", "Ticket", "changes"
    hand.pick "Field that changes", "Severity"
    hand.several "to", "Unsafe"
    open_action(0)
    hand.choose "What it does", "Move the record"
    hand.choose "Status", "In hand"
    hand.button "Add an action"
    hand.choose "What it does", "Change open tasks"
    hand.choose "Priority", "Urgent"
    publish_it
  end

  def refit_over
    begin_rule "Refit over €10,000", "Deal", "Stage becomes"
    hand.several "Stages", "Accepted"
    cell("Value", "is more than") { hand.fill_value "10000" }
    open_action(0)
    task_for_queue "Write a thank-you letter about {{ record.title }}"
    hand.choose "Answer by", "Letter"
    hand.button "Add an action"
    hand.choose "What it does", "Assign the record"
    hand.choose "To whom", "a named person"
    hand.choose "To whom: who", "Tobias Kell"
    publish_it
  end

  def made_or_worth_more
    begin_rule "Look at what she is worth", "Deal", "is made"
    hand.button "or another trigger"
    hand.choose "Trigger 2", "changes"
    hand.pick "Trigger 2: Field that changes", "Value"
    hand.choose "How often", "Once per record"
    open_action(0)
    task_for_queue "Look at {{ record.title }}"
    publish_it
  end

  def to_the_queue
    begin_rule "New tasks of Hollie", "Task", "is made"
    cell("Assignee", "is") { hand.choose "Assignee", "Hollie Banner" }
    open_action(0)
    hand.choose "What it does", "Change open tasks"
    hand.choose "Which tasks", "only this task"
    hand.choose "To whom", "a queue"
    hand.choose "To whom: queue", "Callbacks"
    publish_it
  end

  def haul_in_a_note
    begin_rule "Haul her out", "Deal", "has a code typed in a note"
    hand.fill "Code", "!haul"
    open_action(0)
    task_for_queue "Haul {{ record.title }} out"
    publish_it
  end

  def roster_makes_four
    begin_rule "On the roster", "Launch", "is made"
    open_action(0)
    task_for_queue "Wash the hull"
    ["Check the keel", "Fix the tide", "Tell the owner"].each do |title|
      hand.button "Add an action"
      task_for_queue title
    end
    publish_it
  end

  def next_team
    begin_rule "Fixed, then rigged", "Ticket", "Status becomes"
    hand.several "Statuses", "Fixed"
    open_action(0)
    hand.choose "What it does", "Make a record"
    hand.fill "Title", "Rig after {{ record.title }}"
    hand.choose "How it leads to this ticket", "Parent ticket"
    publish_it
  end

  {"with the mouse" => Hands::Mouse, "with the keys alone" => Hands::Keys}.each do |words, type|
    describe words do
      let(:hand) { type.new(page) }

      before { sign_in("Maren Oduya", at: nil) }

      it "makes severity give the due date before the save, and says so at once" do
        severity_gives_due
        visit "/records/ticket"
        hand.button "New ticket"
        hand.fill "Title", "Loose rail"
        hand.choose "Severity", "Serious"
        hand.button "Make the ticket"
        expect(page).to have_css(
          "[data-test=set-by]", text: "Severity gives due ran before the save: Due is set to Fri 27 Nov 2026"
        )
        expect(page).to have_css("dd", text: "Fri 27 Nov 2026")
        expect(%w[minor unsafe].map { |severity| make("ticket", "severity" => severity)["due"] }).to eq(
          %w[2026-12-08 2026-11-27]
        )
      end

      it "asks for the first Friday from the survey, and says what while there is no survey date" do
        begin_rule "Papers by Friday", "Deal", "is made"
        open_action(0)
        hand.fill "Title", "Send the papers"
        hand.choose "Goes to", "a queue"
        hand.button "Set due date" if page.has_button?("Set due date", wait: 0)
        hand.fill "Due date: how many", "0"
        hand.choose "Due date: unit", "calendar days"
        hand.choose "Due date: of what", "Survey date"
        hand.choose "Due date: which day", "on the first Friday from then"
        hand.button "Say what if Survey date is empty"
        hand.fill "If Survey date is empty: how many", "2"
        hand.choose "If Survey date is empty: which day", "on the next day of a month with number"
        publish_it
        make("deal", "survey_date" => "2026-12-02")
        make("deal")
        settle
        expect(root.db[:tasks].order(:id).select_map(:due_on).map(&:iso8601)).to eq(%w[2026-12-04 2026-12-01])
      end

      it "stops the save of a large deal without a surveyor, and says why at the field" do
        begin_rule "Large deals need a surveyor", "Deal", "is made"
        hand.choose "When it runs", "before the save"
        cell("Value", "is at least") { hand.fill "Value", "50000" }
        open_action(0)
        hand.choose "What it does", "Stop the save"
        hand.fill "What is said to whoever saves", "A deal over €50,000 needs a surveyor."
        hand.several "Shown at", "Surveyor"
        publish_it
        visit "/records/deal"
        hand.button "New deal"
        hand.fill "Title", "Great Auk"
        hand.fill "Value", "60000"
        hand.button "Make the deal"
        expect(page).to have_css("[role=dialog] [role=alert]", text: "A deal over €50,000 needs a surveyor.")
        expect(find_field("Title").value).to eq("Great Auk")
        expect(root.db[:records].count).to eq(0)
      end

      it "makes an unsafe ticket move on and all its open tasks urgent" do
        ticket = make("ticket", "severity" => "minor")["id"]
        2.times { |i| root.tasks.make({"title" => "Task #{i}", "record_id" => ticket}, cause:) }
        unsafe_hurries
        change(ticket, {"severity" => "unsafe"})
        settle
        expect([image(ticket)["stage"], root.db[:tasks].where(record_id: ticket).select_map(:priority)]).to eq(
          ["in_hand", [3, 3]]
        )
      end

      it "thanks for a refit over €10,000 and gives it a new owner, not at 10,000 exactly" do
        refit_over
        deals = [10_000, 10_001].map { |value| make("deal", "value" => value, "stage" => "quoted")["id"] }
        deals.each { |id| change(id, {"stage" => "accepted"}) }
        settle
        expect(deals.map { |id| [titles(id), image(id)["owner"]] }).to eq(
          [[[], "hollie"], [["Write a thank-you letter about Quiet Hour"], "tobias"]]
        )
      end

      it "looks at a deal that is made or whose value changes, once over both" do
        made_or_worth_more
        expect(page).to have_text("How often counts over all of them together.")
        deals = [1, 2].map { |value| make("deal", "value" => value)["id"] }
        settle
        change(deals[0], {"value" => 9})
        settle
        expect(deals.map { |id| titles(id) }).to eq([["Look at Quiet Hour"]] * 2)
        expect(root.rules.all.last[:name]).to eq("Look at what she is worth")
      end

      it "gives each new task of somebody to a queue, whatever it is about" do
        to_the_queue
        ids = [make("deal")["id"], nil].map do |record|
          root.tasks.make({"title" => "Ring back", "assignee" => "hollie", "record_id" => record}, cause:)[:id]
        end
        settle
        expect(ids.map { |id| root.tasks.find!(id).values_at(:assignee, :queue) }).to eq([[nil, "callbacks"]] * 2)
        page.refresh
        expect(page).to have_css("[data-test=try-count]", text: "0 of 2 would run")
      end

      it "makes a task of !haul in a note, and none of !hauling and !Haul" do
        haul_in_a_note
        deal = make("deal")["id"]
        visit "/record/#{deal}"
        ["!hauling her", "!Haul her", "Please !haul her"].each do |text|
          hand.fill "What was said", text
          hand.button "Log the note"
          expect(page).to have_css("li", text:)
        end
        settle
        expect(titles(deal)).to eq(["Haul Quiet Hour out"])
      end

      it "makes four tasks for a new entry of the roster" do
        roster_makes_four
        entry = make("entry/launch_roster")["id"]
        settle
        expect(titles(entry)).to eq(["Wash the hull", "Check the keel", "Fix the tide", "Tell the owner"])
      end

      it "makes a ticket for the next team when one is fixed" do
        next_team
        ticket = make("ticket", "title" => "Split shroud")["id"]
        change(ticket, {"stage" => "fixed"})
        settle
        made = root.db[:records].where(kind: "ticket").reverse(:id).first
        expect([made[:title], image(made[:id])["parent"]]).to eq(["Rig after Split shroud", ticket])
      end
    end
  end
end
