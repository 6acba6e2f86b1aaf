# frozen_string_literal: true

require_relative "browser_helper"

RSpec.describe "What has been mended, in the browser" do
  include FormWords

  def task(title, who: "hollie", **given) =
    root.tasks.make({"title" => title, "assignee" => who, **given.transform_keys(&:to_s)}, cause: cause(who))

  it "asks before an entry is taken off its list, says what goes, and brings it back from the same page" do
    boat = make("deal", "title" => "Sallow")["id"]
    entry = root.list_entries.put_on(boat, "entry/launch_roster", cause:)["id"]
    root.interactions.log(entry, "note", "Twin slings", cause:)
    task("Book the hoist", record_id: entry)
    sign_in("Hollie Banner", at: "/record/#{entry}")
    click_button "Take off the list"
    expect(page).to have_css("[role=dialog]", text: "With it go 1 note or call; 1 open task, which is dropped.")
    click_button "Leave it there"
    expect(page).to have_css("h1", text: "Sallow")
    click_button "Take off the list"
    within("[role=dialog]") { click_button "Take it off the list" }
    expect(page).to have_text("It was taken away by Hollie Banner")
    visit "/record/#{entry}"
    click_button "Bring it back"
    expect(page).to have_css("a", text: "Book the hoist")
    expect(page).to have_text("Twin slings")
    expect(root.db[:tasks].where(title: "Book the hoist").get(:state)).to eq("open")
  end

  it "keeps what starts later apart, and rings the bell at a reminder" do
    task("Paint the hull", start_on: "2026-12-01", due_on: "2026-12-04")
    task("Order the paint", due_on: "2026-11-24")
    sign_in "Hollie Banner"
    expect(page).to have_css("tr.ledger-group", text: "Starts later")
    expect(page).to have_button("Work through 1")
    click_button "Work through 1"
    expect(page).to have_css("h2", text: "Order the paint")
    press "d"
    expect(page).to have_css("h2", text: "All done")
    root.tasks.make(
      {"title" => "Ring the chandler", "assignee" => "hollie", "remind_at" => "2026-11-24T12:00:05Z"},
      cause: cause("tobias")
    )
    wait_until("the reminder is told") { root.db[:notices].where(what: "reminder").any? }
    visit "/notices"
    expect(page).to have_text("Reminder: “Ring the chandler”.")
    expect(page).to have_text("Tobias Kell gave you “Ring the chandler”.")
  end

  it "changes a task in all that it says, and lets a lead open it again" do
    task("Write the letter", who: "wen")
    sign_in("Tobias Kell", at: "/worklist?who=all&task=#{root.db[:tasks].get(:id)}")
    expect(page).to have_css("aside h2", text: "Write the letter")
    press "m"
    within("[role=dialog]") do
      fill_in "What to do", with: "Write two letters"
      fill_in "Answers it asks for, one a line", with: "Sent\nNot yet"
      fill_in "Web link", with: "nowhere"
      click_button "Save the task"
      expect(page).to have_text("Web link takes a web address")
      fill_in "Web link", with: "https://yard.example/letters"
      click_button "Save the task"
    end
    expect(page).to have_css("aside h2", text: "Write two letters")
    expect(page).to have_link("https://yard.example/letters")
    click_button "Sent"
    expect(page).to have_text("Done: Write two letters, Sent")
    visit "/worklist?who=all&state=done"
    click_button "Open it again"
    expect(page).to have_text("Open again: Write two letters")
    expect(root.db[:tasks].get(:state)).to eq("open")
  end

  it "keeps those who have left in sight while they have open tasks" do
    task("Left behind", who: "wen")
    root.db[:people].where(key: "wen").update(active: false)
    root.setup_store.changed(who: "maren", now: Database::NOW)
    sign_in "Tobias Kell"
    choose_from "Whose", "Wen Zhao, who has left (1)"
    expect(page).to have_css("tr", text: "Left behind")
    visit "/team"
    expect(page).to have_css("tr", text: "Wen Zhao")
  ensure
    root.db[:people].where(key: "wen").update(active: true)
    root.setup_store.changed(who: "maren", now: Database::NOW)
  end

  it "shows all that is linked, page by page, and takes away a link that somebody drew" do
    hub = make("deal", "title" => "Hub")["id"]
    55.times { |i| make("ticket", "title" => "Snag #{i}", "boat" => hub) }
    root.links.add(hub, make("contact", "title" => "Aldo")["id"], cause:)
    35.times { |i| root.interactions.log(hub, "note", "Note #{i}", cause:) }
    sign_in("Hollie Banner", at: "/record/#{hub}")
    expect(page).to have_no_link("Snag 54")
    click_button "Show more of 56"
    expect(page).to have_link("Snag 54")
    click_button "Take away the link with Aldo"
    expect(page).to have_text("No longer linked with Aldo.")
    expect(page).to have_no_css("dd", text: "Aldo")
    click_button "Quote or change a note"
    expect(page).to have_no_css("[role=dialog]", text: "Note 0")
    click_button "Show earlier ones, of 35 in all"
    expect(page).to have_css("[role=dialog] p", text: "Note 0", exact_text: true)
  end

  it "lets a visitor choose several in a form" do
    changes = Yenvo::Store::SetupChanges.new(root)
    key =
      changes.field(
        "entry/survey_requests", nil,
        {
          "label" => "Parts", "type" => "choices",
          "choices" => [{"label" => "Mast"}, {"label" => "Engine"}, {"label" => "Hull"}]
        },
        cause: cause("maren")
      )
    items = [{"ask" => "title", "label" => "What it is about"}, {"ask" => key, "label" => "Parts"}]
    visit "/f/#{a_form(items:, contact: nil, consent: nil)[:address]}"
    fill_in "What it is about", with: "Survey of Tern"
    check "Mast"
    check "Hull"
    send_form { click_button "Send" }
    expect(page).to have_text("Thank you")
    expect(JSON.parse(root.db[:records].where(title: "Survey of Tern").get(:fields))[key]).to eq(%w[mast hull])
  ensure
    changes&.remove_field("entry/survey_requests", key, cause: cause("maren"), anyway: true) if key
  end

  it "says from and to for texts and numbers, which are typed" do
    sign_in("Maren Oduya", at: "/rules/new")
    choose_from "Trigger", "changes"
    pick_field "Field that changes", "Value"
    find_field("Value to").send_keys("5; 7", :tab)
    expect(page).to have_text("Value becomes €5 or €7").or have_field("Value to", with: "5; 7")
    wait_until("it is kept") { root.db[:rules].get(:draft).to_s.include?('"to":["5","7"]') }
  end

  it "lists what stands aside for administrators, and has it tried again by a press" do
    id = make("deal", "title" => "Sallow")["id"]
    wait_until("it is settled") { root.waiting.count.zero? }
    entry = root.db[:journal].where(record_id: id).get(:id)
    root.db[:waiting].insert(
      entry_id: entry, record_id: id, tries: 3, not_before: Time.utc(2030), last_error: "KeyError: key not found"
    )
    sign_in("Maren Oduya", at: "/trail")
    expect(page).to have_css("section", text: /1 event could not be settled.*Sallow.*KeyError: key not found/m)
    click_button "Try again now"
    expect(page).to have_no_css("section[aria-label='Stands aside']")
    expect(root.waiting.count).to eq(0)
  end

  it "takes at most 120 of 740 points for the head of a page on a phone" do
    make("deal", "title" => "Quiet Hour")
    sign_in "Maren Oduya", width: 360, height: 740
    id = root.db[:records].get(:id)
    ["/worklist", "/records/deal", "/record/#{id}", "/rules", "/trail", "/kits", "/team", "/rules/new"].each do |path|
      visit path
      page.find("[data-test=page-head]")
      heights =
        page.evaluate_script(
          "['header', '[data-test=page-head]'].map((one) => document.querySelector(one).getBoundingClientRect().height)"
        )
      expect(heights.sum).to be <= 120, "#{path} takes #{heights}"
    end
    click_button "More"
    find("button[aria-label='Go to']").click
    click_link "Worklist"
    expect(page).to have_css("h1", text: "Worklist", visible: :all)
  end
end
