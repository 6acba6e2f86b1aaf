# frozen_string_literal: true

require_relative "browser_helper"

RSpec.describe "Working tasks" do
  def task(title, who: "hollie", **given) =
    root.tasks.make({"title" => title, **given.transform_keys(&:to_s)}, cause: cause(who))

  def open_of(person) = root.db[:tasks].where(assignee: person, open: true).count

  it "a member works a queue to its end by keys alone" do
    5.times { |i| task("Job #{i}", queue: "yard_work", due_on: "2026-11-2#{5 + i}") }
    sign_in "Wen Zhao"
    press "q"
    expect(page).to have_css("[role=dialog]", text: "Yard work")
    Hands::Keys.new(page).button "Work through"
    5.times do |i|
      expect(page).to have_css("h2", text: "Job #{i}")
      expect(root.db[:tasks].where(title: "Job #{i}").get(:assignee)).to eq("wen")
      press "n"
      expect(page).to have_css("textarea:focus")
      press "By hand #{i}"
      press :escape
      expect(page).to have_no_css("textarea:focus")
      press "d"
    end
    expect(page).to have_css("h2", text: "The queue is empty")
    expect(root.db[:tasks].where(state: "done").order(:id).select_map(:note)).to eq(Array.new(5) { |i| "By hand #{i}" })
    press :escape
    expect(page).to have_css("h1", text: "Worklist")
  end

  it "works through a worklist one by one, takes a step back, and gives a task back to its queue" do
    task("First", due_on: "2026-11-24")
    task("Second", due_on: "2026-11-25")
    taken = task("From the queue", queue: "callbacks", due_on: "2026-11-26")
    root.tasks.take(taken[:id], cause:)
    sign_in "Hollie Banner"
    press "t"
    expect(page).to have_css("h2", text: "First")
    press "d"
    expect(page).to have_css("h2", text: "Second")
    press "u"
    wait_until("it is open again") { root.db[:tasks].where(title: "First", open: true).any? }
    press "s"
    expect(page).to have_text("Started: Second")
    press "j"
    expect(page).to have_css("h2", text: "From the queue")
    press "g"
    wait_until("it is back") { root.db[:tasks].where(id: taken[:id], assignee: nil).any? }
  end

  it "an asking code is completed and sent, and one is thrown away; nothing is made before" do
    publish(
      {
        "trigger" => {"when" => "code", "code" => "!lift"},
        "branches" => [
          {
            "do" => [
              {
                "action" => "task", "title" => "Lift {{ record.title }} on ___", "ask" => true,
                "assign" => {"to" => "person", "person" => "wen"}
              }
            ]
          }
        ]
      }
    )
    deal = make("deal", "title" => "Quiet Hour")["id"]
    sign_in("Hollie Banner", at: "/record/#{deal}")
    2.times do |i|
      find("#note-box").send_keys("Please !lift her, #{i}")
      click_button "Log the note"
      wait_until("it is asked") { root.db[:proposals].count == i + 1 }
    end
    expect(page).to have_text("2 tasks wait for you to send:")
    expect(root.db[:tasks].count).to eq(0)
    click_button "Lift Quiet Hour on ___", match: :first
    click_button "Send it"
    expect(page).to have_text("Title has a blank still.")
    fill_in "What to do", with: "Lift Quiet Hour on Friday"
    fill_in "Where", with: "Slipway 2"
    fill_in "Answers it asks for, one a line", with: "Lifted\nNot yet"
    click_button "Send it"
    expect(page).to have_text("Sent: Lift Quiet Hour on Friday")
    expect(root.db[:tasks].select_map(%i[location answers])).to eq([["Slipway 2", '["Lifted","Not yet"]']])
    expect(page).to have_text("1 task waits for you to send:")
    click_button "Lift Quiet Hour on ___"
    click_button "Throw it away"
    expect(page).to have_text("Thrown away. Nothing was made.")
    expect(page).to have_no_text("for you to send")
    expect(root.db[:tasks].select_map(%i[title assignee])).to eq([["Lift Quiet Hour on Friday", "wen"]])
  end

  it "a lead empties the list of a colleague who is away, with a preview" do
    4.times { |i| task("Rig #{i}", who: "callum", assignee: "callum", due_on: "2026-11-25") }
    sign_in "Tobias Kell"
    click_link "Team"
    expect(page).to have_text("Callum Reyes is away")
    find("tr", text: "Callum Reyes").click_button("Pass all on")
    within("[role=dialog]") do
      choose_from "To", "Rigging and survey, by turns"
      expect(page).to have_text("4 tasks would go:")
      expect(page).to have_css("li", text: "Ines Varga", count: 4)
      click_button "Pass on 4 tasks"
    end
    expect(page).to have_text("Passed on 4 tasks of Callum Reyes.")
    expect([open_of("callum"), open_of("ines")]).to eq([0, 4])
  end

  it "chooses several and re-dates, passes on and finishes them, and finds tasks by words" do
    3.times { |i| task("Scrape hull #{i}", due_on: "2026-11-24") }
    task("Ring the harbour")
    sign_in "Hollie Banner"
    expect(page).to have_css("aside h2", text: "Scrape hull 0")
    press "x"
    expect(page).to have_text("1 task chosen")
    check "Choose all shown"
    uncheck "Choose Ring the harbour"
    click_button "Re-date"
    fill_in "When, in words", with: "friday"
    click_button "Re-date to Fri 27 Nov"
    expect(page).to have_css("tr", text: /Scrape hull \d.*Fri 27 Nov/m, count: 3)
    press "f"
    expect(page).to have_css("#task-words:focus")
    press "scra hul"
    expect(page).to have_no_css("tr", text: "Ring the harbour")
    expect(page.current_url).to include("text=scra")
    visit page.current_url
    expect(page).to have_css("tr", text: "Scrape hull", count: 3)
    click_button "Select several"
    check "Choose all shown"
    click_button "Pass on"
    within("[role=dialog]") do
      choose_from "To", "Wen Zhao"
      click_button "Pass on"
    end
    wait_until("they are passed on") { open_of("wen") == 3 }
  end

  it "holds talk with mentions, files, parts and ready texts, and is clean for a screen reader" do
    task("Call Aldo", due_on: "2026-11-24")
    sign_in "Hollie Banner"
    fill_in "Comment", with: "@wen knows the keys"
    click_button "Say it"
    expect(page).to have_css("aside li", text: "@wen knows the keys")
    wait_until("Wen is told") { root.notices.unread("wen") == 1 }
    attach_file("Add a file", File.expand_path("../fixtures/keys.txt", __dir__), make_visible: true)
    expect(page).to have_link("keys.txt")
    Tempfile.create(["chart", ".pdf"]) do |file|
      file.truncate(10_000_001)
      attach_file("Add a file", file.path, make_visible: true)
      expect(page).to have_content("has 10.0 MB; at most 10.0 MB are taken")
    end
    click_button "Add a part"
    within("[role=dialog]") do
      fill_in "What to do", with: "Find the number"
      click_button "Make the task"
    end
    expect(page).to have_css("aside", text: "0 of 1 done")
    press "e"
    within("[role=dialog]") do
      click_button "Write another"
      fill_in "Name", with: "Keys"
      fill_in "Text", with: "Keys are with ___, ask ___"
      click_button "Keep it"
      fill_in "Find a ready text", with: "key"
      find_field("Find a ready text").send_keys(:enter)
    end
    expect(page).to have_css("textarea:focus")
    press "Osk"
    expect(find("aside textarea[aria-label^='Note']").value).to eq("Keys are with Osk, ask ___")
    expect(page).to be_axe_clean.according_to(:wcag2a, :wcag2aa, :wcag21aa, :wcag22aa)
  end
end
