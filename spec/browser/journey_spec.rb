# frozen_string_literal: true

require_relative "browser_helper"

# The main job of Yenvo from end to end, as its users do it.
RSpec.describe "From a rule to a task that is done" do
  before do
    owner = make("contact", "title" => "Aldo Ferrant", "country" => "ireland", "phone" => "+353 555 0147")["id"]
    make(
      "deal", "title" => "Quiet Hour", "stage" => "quoted", "owner" => "hollie", "boat_length" => 9.1,
      "survey_date" => "2026-12-03", "boat_owner" => owner
    )
    make(
      "deal", "title" => "Marigold Tern", "stage" => "survey_booked", "owner" => "hollie", "boat_length" => 13.4,
      "survey_date" => "2026-12-17", "boat_owner" => owner
    )
    make(
      "deal", "title" => "Sallow", "stage" => "survey_booked", "owner" => "hollie", "survey_date" => "2026-12-10",
      "boat_owner" => owner
    )
    make("deal", "title" => "Oyster Moon", "stage" => "survey_booked", "owner" => "hollie", "boat_owner" => owner)
  end

  def write_action(title, due: nil)
    fill_in "Title", with: title
    choose_from "Goes to", "the owner"
    choose_from "If that is nobody or away", "a queue"
    return unless due

    click_button "Set due date"
    choose_from "Due date: of what", due
    choose_from "Due date: before or after", "before"
    fill_in "Due date: how many", with: "3\t"
    fill_in "Due date: time of day", with: "12\t"
  end

  def write_condition(field, test, value)
    click_button "Add a condition"
    pick_field "Field", field
    choose_from "Test", test
    all("input[inputmode=decimal]").last.set(value) if value
  end

  def write_rule
    visit "/rules"
    click_link "New rule"
    fill_in "Name of the rule", with: "Survey booked: get the boat ready"
    choose_from "Trigger", "Stage becomes"
    choose_several "Stages", "Survey booked"
    choose_from "How often", "Once per record"
    click_button "Set conditions"
    within("#rule-side") { write_condition("Survey date", "is filled in", nil) }
    click_button "Branch 1"
    within("#rule-side") { write_condition("Boat length", "is at least", "12") }
    find("[data-row='0'] button", text: "Nothing written yet").click
    write_action("Book the hoist", due: "Survey date")
    pick_field "Insert into Title", "Title"
    click_button "Add a branch"
    within("#rule-side") { write_condition("Boat length", "is less than", "12") }
    find("[data-row='1'] button", text: "Nothing written yet").click
    write_action("Call the owner to confirm access")
    click_button "Set due date"
    click_button "Add an otherwise"
    write_action("Check what kind of survey was asked for")
  end

  def move_quiet_hour(stage)
    id = root.lists.find("quiet").first[:id]
    visit "/record/#{id}"
    choose_from "Stage", stage
    wait_until("the deal is moved") { root.records.find!(id)["stage"] == stage.downcase.tr(" ", "_") }
    expect(page).to have_css("li", text: "to #{stage}")
  end

  def tasks_of_quiet_hour
    wait_until("the worker is idle") { root.waiting.count.zero? }
    root.db[:tasks].where(record_id: root.lists.find("quiet").first[:id]).count
  end

  it "is written, tried, published, met, worked, and explained" do
    sign_in "Maren Oduya"
    write_rule
    click_button "Try"
    expect(page).to have_css("[data-test=try-count]", text: "2 of 3 would run")
    rows = all("#rule-side tbody tr").map { |row| row.text.tr("\n", " ") }
    expect(rows).to match(
      [/–.*Oyster Moon Survey date is empty/, /○.*Sallow Boat length is empty/, /1.*Marigold Tern Boat length 13.4 m/]
    )
    find("#rule-side button", text: "Marigold Tern").click
    expect(page).to have_css("#rule-side", text: "Marigold Tern would get 1 task")
    expect(page).to have_css("#rule-side", text: "Mon 14 Dec 12:00")
    expect(root.db[:tasks].count).to eq(0)
    click_button "Publish version 1"
    expect(page).to have_text("Version 1 is on. Records of before are not touched.")

    using_session(:hollie) do
      sign_in "Hollie Banner"
      expect(page).to have_text("Nothing waits for you")
    end
    using_session(:desk) do
      sign_in "Hollie Banner"
      move_quiet_hour "Survey booked"
    end
    using_session(:hollie) do
      expect(page).to have_css("tr", text: /Call the owner to confirm access.*Wed 25 Nov/m, wait: 4)
      expect(page).to have_css("aside", text: "Survey booked: get the boat ready, version 1, branch 2")
      expect(page).to have_css("aside", text: "+353 555 0147")
      click_button "Note"
      fill_in "Note, kept when the task is done or dropped", with: "Keys are with the harbour office."
      find("aside button", text: "Done").click
      expect(page).to have_text("Done: Call the owner to confirm access")
      expect(page).to have_text("Nothing waits for you")
    end

    using_session(:desk) do
      move_quiet_hour "Quoted"
      move_quiet_hour "Survey booked"
      expect(tasks_of_quiet_hour).to eq(1)
    end
    choose_from "How often", "Once per visit"
    click_button "Publish version 2"
    expect(page).to have_text("Version 2 is on")
    using_session(:desk) do
      move_quiet_hour "Quoted"
      move_quiet_hour "Survey booked"
      expect(tasks_of_quiet_hour).to eq(2)
      change(root.lists.find("quiet").first[:id], {"value" => 9})
      expect(tasks_of_quiet_hour).to eq(2)
      expect(page).to have_css("ul", text: "Call the owner to confirm access")
      find("li a", text: "Why", match: :first).click
      expect(page).to have_css(
        "aside", text: "Because Hollie Banner moved the deal from Quoted to Survey booked on Quiet Hour"
      )
      tests = all("aside section", text: "Tests").first.all("li").map { |line| line.text.tr("\n", " ") }
      expect(tests).to match(
        [
          /✓.*Survey date is filled in Thu 3 Dec 2026/, /✗.*Branch 1 · Boat length is at least 12 m 9.1 m/,
          /✓.*Branch 2 · Boat length is less than 12 m 9.1 m/
        ]
      )
    end
  end
end
