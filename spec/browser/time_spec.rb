# frozen_string_literal: true

require "open3"
require_relative "browser_helper"
require_relative "../support/hands"

# Rules that time wakes, written on the sheet, and seen to work while the clock of the demo moves.
RSpec.describe "Time" do
  before { root.moved_clock.allow }

  after { root.db[:moved_clock].update(ahead: 0.0, stands_at: nil) }

  let(:hand) { Hands::Mouse.new(page) }

  def move_clock(to)
    env = {"DATABASE_URL" => Browser.house[2], "YENVO_CLOCK" => Browser::CLOCK}
    expect(ForkServer.run("clock", "--to", to, "--brief", env:)).to match([/stands at/, "", 0])
  end

  def settle
    wait_until("the worker is idle", seconds: 20) do
      root.waiting.count.zero? && !root.jobs.under_way? &&
        root.db[:timers].where { due_at <= Time.iso8601(Browser::CLOCK) }.empty?
    end
  end

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
    settle
  end

  def open_action(row, index = 0) = hand.open("tr[data-row='#{row}'] td:last-child button:nth-of-type(#{index + 1})")

  def task_for(title, queue = nil, &more)
    hand.fill "Title", title
    if queue
      hand.choose "Goes to", "a queue"
      hand.choose "Goes to: queue", queue
    else
      hand.choose "Goes to", "a named person"
      hand.choose "Goes to: who", "Hollie Banner"
    end
  end

  def hoist_before_launch
    begin_rule "Hoist before launch", "Deal", "has a date that comes near, or is past"
    hand.fill "When it fires: how many", "30"
    hand.choose "When it fires: of what", "Launch date"
    open_action(0)
    task_for "Book the hoist for {{ record.title }}"
    publish_it
  end

  def deal_quiet
    begin_rule "Deal quiet for 5 wd", "Deal", "is quiet for some time"
    open_action(0)
    task_for "Call about {{ record.title }}", "Callbacks"
    publish_it
  end

  def call_with_ladder
    begin_rule "Survey booked", "Deal", "Stage becomes"
    hand.several "Stages", "Survey booked"
    open_action(0)
    task_for "Call the owner"
    hand.button "Set due date"
    hand.fill "Due date: how many", "1"
    hand.fill "Due date: time of day", "09:00"
    hand.button "Add an action"
    hand.choose "What it does", "Ladder for a task nobody finishes"
    2.times { hand.button "Add a step" }
    hand.choose "To whom: who", "Tobias Kell"
    hand.choose "If that is nobody or away", "a queue"
    publish_it
  end

  def first_of_the_month
    begin_rule "First of the month", "Gear round", "comes up by the calendar"
    open_action(0)
    task_for "Check {{ record.title }}"
    hand.button "Set conditions"
    hand.button "Add a condition"
    hand.pick "Field", "Section"
    hand.choose "Test", "is"
    hand.choose "Section", "In service"
    publish_it
  end

  def deposit_wait
    begin_rule "Deposit not in", "Deal", "Stage becomes"
    hand.several "Stages", "Accepted"
    open_action(0)
    hand.choose "What it does", "Wait, then look again"
    hand.button "No time"
    hand.button "Say what must hold"
    hand.button "Add a condition"
    hand.pick "Field", "Deposit in"
    hand.choose "Test", "is"
    hand.choose "Deposit in", "yes"
    hand.button "Set limit"
    hand.fill "Limit: how many", "10"
    hand.fill "Limit: time of day", "09:00"
    hand.button "Add an action"
    task_for "Deposit looked at: {{ record.deposit_in }}"
    publish_it
  end

  def titles =
    root.db[:tasks].order(:id)
      .map { |row| "#{row[:title]} #{root.calendar.zone.local(row[:made_at]).strftime("%-d %b %H:%M")}" }

  it "30 calendar days before the launch date: off a weekend, moved with the date, shown everywhere" do
    sign_in "Maren Oduya"
    hoist_before_launch
    # 30 days before 19 January is 20 December, a Sunday; the timer moves to the Friday before.
    deal = make("deal", "title" => "Quiet Hour", "launch_date" => "2027-01-19")["id"]
    settle
    expect(page).to have_css("[role=tab][aria-selected=true]", text: "Ahead")
    expect(page).to have_css("[data-test=timers] tr", text: /Fri 18 Dec 08:00\s+Quiet Hour/)
    visit "/rules"
    expect(page).to have_css(
      "tr",
      text: /Hoist before launch\s+30 days before Launch date at 08:00 → Book the hoist for \[deal\]\s+Deal, timer/
    )
    visit "/record/#{deal}"
    expect(page).to have_css(
      "[data-test=ahead] li",
      text: /Fri 18 Dec 08:00.*Task for Hollie Banner: Book the hoist for Quiet Hour.*Hoist before launch/m
    )
    expect(page).to have_css("[data-test=ahead] li", text: /Tue 19 Jan 2027.*Launch date/m)
    click_button "Change a field"
    choose_from "What if this field", "Launch date"
    find("section[aria-label='What if'] input[type=date]").send_keys("01152027")
    expect(page).to have_css("[data-test=new-count]", text: "1 new")
    expect(page).to have_css("[data-test=gone-count]", text: "1 gone")
    expect(page).to have_css("li[data-state=new]", text: /Wed 16 Dec 08:00/)
    expect(root.records.find!(deal)["launch_date"]).to eq("2027-01-19")
    change(deal, {"launch_date" => "2027-01-15"})
    settle
    move_clock "2026-12-13"
    expect(page).to have_css("[data-test=moved-clock]", text: /moved forward; it stands at Sun 13 Dec/, wait: 12)
    visit "/worklist"
    expect(page).to have_css("[data-test=moved-clock]", text: /Sun 13 Dec/)
    sign_in "Hollie Banner"
    expect(page).to have_css("[data-test=coming] tr", text: /Book the hoist for Quiet Hour.*Wed 16 Dec 08:00/m)
    move_clock "2026-12-17"
    expect(page).to have_css("table:not([data-test=coming]) tr", text: "Book the hoist for Quiet Hour", wait: 12)
    expect(titles).to eq(["Book the hoist for Quiet Hour 16 Dec 08:00"])
  end

  it "five working days without contact: a call in Callbacks, put off by a logged call" do
    sign_in "Maren Oduya"
    deal_quiet
    make("deal", "title" => "Sallow")
    called = make("deal", "title" => "Quiet Hour")["id"]
    settle
    move_clock "2026-11-27"
    visit "/record/#{called}"
    choose_from "Kind of interaction", "Call" unless page.has_css?("button", text: "Log the call", wait: 0)
    find("#note-box").send_keys("All well.")
    click_button "Log the call"
    expect(page).to have_css(
      "[data-test=ahead] li", text: /Fri 4 Dec 09:00.*Task for Callbacks: Call about Quiet Hour.*Deal quiet for 5 wd/m
    )
    move_clock "2026-12-05"
    expect(root.db[:tasks].order(:id).select_map(%i[title queue])).to eq(
      [["Call about Sallow", "callbacks"], ["Call about Quiet Hour", "callbacks"]]
    )
    expect(titles).to eq(["Call about Sallow 1 Dec 09:00", "Call about Quiet Hour 4 Dec 09:00"])
    expect(page).to have_text("It was quiet: Deal quiet for 5 wd")
    expect(page).to have_text(/made the task Call about Quiet Hour for the queue Callbacks/)
  end

  it "three working days late, a task has climbed its ladder to Tobias" do
    sign_in "Maren Oduya"
    call_with_ladder
    expect(page).to have_text("+1 wd remind, +2 wd raise, +3 wd to Tobias Kell")
    expect(page).to be_axe_clean.according_to(:wcag2a, :wcag2aa, :wcag21aa, :wcag22aa)
    deal = make("deal", "title" => "Quiet Hour", "stage" => "survey_booked")["id"]
    settle
    visit "/record/#{deal}"
    expect(page).to have_css(
      "[data-test=ahead] li",
      text: /Mon 30 Nov 09:00.*“Call the owner” passed to Tobias Kell if “Call the owner” is still open/m
    )
    sign_in "Hollie Banner"
    expect(page).to have_css(
      "[data-test=ladder-next]", text: /Thu 26 Nov 09:00 next, if still open: a reminder by Survey booked/
    )
    move_clock "2026-11-28"
    expect(page).to have_css(
      "[data-test=ladder-next]", text: /Mon 30 Nov 09:00 next, if still open: to Tobias Kell/, wait: 12
    )
    expect(root.db[:tasks].select_map([:assignee, :priority])).to eq([["hollie", 2]])
    move_clock "2026-12-01"
    expect(root.db[:tasks].select_map([:assignee, :priority, :open])).to eq([["tobias", 2, true]])
    expect(root.db[:notices].where(person: "hollie", what: nil).select_map(:text)).to eq(
      ["“Call the owner” is still open."]
    )
    sign_in "Tobias Kell"
    expect(page).to have_css("tr", text: "Call the owner")
  end

  it "the first of the month at 08:00: the round for each entry in service" do
    sign_in "Maren Oduya"
    first_of_the_month
    %w[Slings Extinguishers].each { |title| make("entry/gear_rounds", "title" => title) }
    make("entry/gear_rounds", "title" => "Retired", "stage" => "retired")
    settle
    visit "/rules"
    click_link "First of the month"
    expect(page).to have_css("[data-test=next-dates] li", count: 10)
    expect(page).to have_css("[data-test=next-dates] li", text: "Tue 1 Dec 08:00")
    expect(page).to have_text("Every month on day 1")
    expect(page).to be_axe_clean.according_to(:wcag2a, :wcag2aa, :wcag21aa, :wcag22aa)
    find("[role=tab]", text: "Ahead").click
    expect(page).to have_css("[data-test=timers] tr", count: 21)
    move_clock "2027-01-10"
    # The first of January is a holiday, and the yard is shut until the third.
    expect(titles).to eq(
      [
        "Check Slings 1 Dec 08:00", "Check Extinguishers 1 Dec 08:00", "Check Slings 4 Jan 08:00",
        "Check Extinguishers 4 Jan 08:00"
      ]
    )
  end

  it "a wait for the deposit ends when it comes in, and otherwise after ten working days" do
    sign_in "Maren Oduya"
    deposit_wait
    paid, never = %w[Paid Never].map { |title| make("deal", "title" => title, "stage" => "accepted")["id"] }
    settle
    visit "/record/#{never}"
    expect(page).to have_css("[data-test=ahead] li", text: /Tue 8 Dec 09:00.*Deposit looked at/m)
    move_clock "2026-12-01"
    visit "/record/#{paid}"
    change(paid, {"deposit_in" => true}, at: Time.utc(2026, 12, 1, 8))
    wait_until("the wait has ended") { root.db[:tasks].count == 1 }
    move_clock "2026-12-10"
    expect(root.db[:tasks].order(:id).select_map(:record_id)).to eq([paid, never])
    expect(titles.last).to eq("Deposit looked at: 8 Dec 09:00").or eq("Deposit looked at:  8 Dec 09:00")
    expect(page).to have_text("A wait ended: Deposit not in")
  end

  it "asks what to do about the past when a rule is published, and when it is resumed" do
    make("deal", "title" => "Past", "launch_date" => "2026-12-01")
    sign_in "Maren Oduya"
    begin_rule "Hoist before launch", "Deal", "has a date that comes near, or is past"
    hand.fill "When it fires: how many", "30"
    hand.choose "When it fires: of what", "Launch date"
    open_action(0)
    task_for "Hoist {{ record.title }}"
    expect(page).to have_css("[role=tab]", text: /\AChecks( ◇)?\z/, wait: 12)
    click_button "Publish version 1"
    expect(page).to have_css("[data-test=past-count]", text: "1 deal")
    expect(root.db[:rules].get(:state)).to eq("draft")
    click_button "Publish and fire for 1 deal now"
    expect(page).to have_text("Version 1 is on")
    wait_until("it has fired") { root.db[:tasks].count == 1 }
    make("deal", "title" => "Ahead", "launch_date" => "2026-12-28")
    settle
    click_button "Pause"
    expect(page).to have_css("[data-test=timers]", text: "none has come due meanwhile")
    move_clock "2026-12-02"
    expect(page).to have_css("[data-test=timers]", text: "1 timer came due meanwhile", wait: 12)
    expect(root.db[:tasks].count).to eq(1)
    click_button "Resume"
    expect(page).to have_css("[data-test=held-count]", text: "1 timer")
    click_button "Resume and fire 1 timer"
    wait_until("it has fired late") { root.db[:tasks].count == 2 }
    visit "/trail"
    expect(page).to have_text("Hoist before launch")
    visit "/record/#{root.db[:tasks].max(:record_id)}"
    expect(page).to have_text(/A date came near: Hoist before launch late, it was due/)
  end

  describe "with the keys alone" do
    let(:hand) { Hands::Keys.new(page) }

    it "the same five rules are written" do
      sign_in "Maren Oduya"
      %i[hoist_before_launch deal_quiet call_with_ladder first_of_the_month deposit_wait].each { |rule| send(rule) }
      triggers =
        root.rules.all.map do |row|
          root.rules.body(row[:version_id]).trigger.values_at("when", "date", "nothing", "recurs").compact
        end
      expect(triggers).to match(
        [
          ["date_timer", hash_including("count" => 30, "from" => "launch_date")], ["quiet_timer", ["contact"]],
          ["stage_entered"], %w[schedule FREQ=MONTHLY;BYMONTHDAY=1], ["stage_entered"]
        ]
      )
      expect(root.rules.all.map { |row| root.rules.body(row[:version_id]).branches[0].actions.map(&:name) }).to eq(
        [%w[task], %w[task], %w[task ladder], %w[task], %w[wait task]]
      )
    end
  end

  it "holds on a phone and before a slow or failed answer: what lies ahead, and what if" do
    publish(
      "name" => "Hoist",
      "trigger" => {
        "when" => "date_timer",
        "date" => {
          "count" => 5, "unit" => "days", "direction" => "before", "from" => "launch_date", "at" => "08:00",
          "day_off" => "stays"
        }
      },
      "branches" => [
        {"do" => [{"action" => "task", "title" => "Hoist", "assign" => {"to" => "person", "person" => "hollie"}}]}
      ]
    )
    deal = make("deal", "launch_date" => "2026-12-10")["id"]
    settle
    sign_in("Hollie Banner", at: "/record/#{deal}", width: 360, height: 740)
    expect(page).to have_css("[data-test=ahead] li", text: "Task for Hollie Banner: Hoist")
    expect(page.evaluate_script("document.documentElement.scrollWidth")).to be <= 360
    expect(page).to be_axe_clean.according_to(:wcag2a, :wcag2aa, :wcag21aa, :wcag22aa)
    click_button "Change a field"
    network(offline: true)
    choose_from "What if this field", "Deposit in"
    choose_from "Deposit in", "yes"
    expect(page).to have_css("[data-test=ahead]", text: "Try again", wait: 12)
    network
    within("[data-test=ahead]") { click_button "Try again" }
    expect(page).to have_css("[data-test=new-count]", text: "0 new")
  end
end
