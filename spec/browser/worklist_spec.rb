# frozen_string_literal: true

require_relative "browser_helper"

RSpec.describe "The worklist" do
  def task(title, who: "hollie", **given) =
    root.tasks.make({"title" => title, **given.transform_keys(&:to_s)}, cause: cause(who))

  def done?(title) = root.db[:tasks].where(title:, state: "done").any?

  it "is worked with the keys alone" do
    publish(
      survey_rule(
        "branches" => [
          {
            "do" => [
              {
                "action" => "task", "title" => "Call about {{ record.title }}", "assign" => {"to" => "owner"},
                "fallback" => {"to" => "queue", "queue" => "callbacks"},
                "due" => {"count" => 1, "unit" => "working_days"}, "answers" => %w[Confirmed Silent]
              }
            ]
          }
        ]
      )
    )
    make("deal", "title" => "Quiet Hour", "stage" => "survey_booked")
    wait_until("the task is made") { root.db[:tasks].any? }
    task("Late letter", due_on: "2026-11-20", priority: "urgent")
    task("Today's note", due_on: "2026-11-24")
    sign_in "Hollie Banner"
    expect(page).to have_css("aside h2", text: "Late letter")
    press "j"
    expect(page).to have_css("aside h2", text: "Today's note")
    press "k"
    expect(page).to have_css("aside h2", text: "Late letter")
    press "n"
    expect(page).to have_css("aside textarea:focus")
    press "By post.", :escape
    press "d"
    expect(page).to have_css("aside h2", text: "Today's note")
    wait_until("it is done") { done?("Late letter") }
    expect(root.db[:tasks].where(title: "Late letter").get(:note)).to eq("By post.")
    press "p"
    click_button "Put off to Wed 25 Nov"
    expect(page).to have_css("tr", text: /Today's note.*Wed 25 Nov/m)
    press "h"
    within("[role=dialog]") do
      choose_from "To", "Osk Lindahl"
      click_button "Pass on"
    end
    expect(page).to have_no_css("tr", text: "Today's note")
    expect(page).to have_css("aside h2", text: "Call about Quiet Hour")
    press "2"
    expect(page).to have_text("Done: Call about Quiet Hour, Silent")
    press "?"
    expect(page).to have_css("[role=dialog]", text: "Put off")
  end

  it "takes a task by hand, keeps what was typed when it is refused, and is whole at 360 px" do
    sign_in "Hollie Banner", width: 360, height: 740
    click_button "More"
    click_button "New task"
    fill_in "What to do", with: "Send the yard terms"
    fill_in "Where", with: "Berth 4"
    fill_in "Web link", with: "no address"
    click_button "Make the task"
    expect(page).to have_text("Web link takes a web address that begins with https:// or http://")
    expect(find_field("What to do").value).to eq("Send the yard terms")
    fill_in "Web link", with: "https://yard.example/terms"
    click_button "Make the task"
    expect(page).to have_css("h2", text: "Send the yard terms")
    expect(page).to have_text("Where: Berth 4")
    click_button "Back to the list"
    wide = page.evaluate_script("document.documentElement.scrollWidth")
    expect(wide).to be <= 360
    click_button "Done: Send the yard terms"
    expect(page).to have_text("Done: Send the yard terms")
  end

  it "lets a task of another team be seen but not worked" do
    task("Chase the deposit", who: "priya")
    sign_in("Wen Zhao", at: "/worklist?who=priya")
    expect(page).to have_css("aside", text: "This task is Priya Nand’s. They, their team or a lead can work it.")
    expect(page).to have_no_css("aside button", text: "Done")
    expect(page).to have_no_css("button[aria-label='Done: Chase the deposit']")
  end

  it "says that Yenvo cannot be reached, keeps what is there, and goes on when it is back" do
    task("Call Aldo", due_on: "2026-11-24")
    sign_in "Hollie Banner"
    expect(page).to have_css("aside h2", text: "Call Aldo")
    network offline: true
    press "d"
    expect(page).to have_text("Yenvo cannot be reached just now. Nothing was lost; try again in a moment.")
    expect(page).to have_css("aside h2", text: "Call Aldo")
    network
    press "d"
    wait_until("it is done") { done?("Call Aldo") }
  end

  it "asks to sign in again when the session has ended, and returns to the same page" do
    sign_in "Hollie Banner"
    root.db[:account_active_session_keys].delete
    visit "/rules"
    expect(page).to have_css("h1", text: "Sign in")
    click_button "Hollie Banner"
    expect(page).to have_css("h1", text: "Rules")
  end
end

RSpec.describe "Many open pages" do
  it "share one stream of news, and pass it on when its page goes" do
    sign_in "Hollie Banner"
    first = page.current_window
    others = Array.new(8) { open_new_window }
    others.each do |window|
      within_window(window) { visit("/worklist") && expect(page).to(have_text("Nothing waits for you")) }
    end
    root.tasks.make({"title" => "Call Aldo"}, cause:)
    [first, others.last].each do |window|
      within_window(window) { expect(page).to have_css("tr", text: "Call Aldo", wait: 3) }
    end
    within_window(first) { visit "about:blank" }
    others.first(7).each(&:close)
    page.switch_to_window(others.last)
    root.tasks.make({"title" => "Write to Ilse"}, cause:)
    expect(page).to have_css("tr", text: "Write to Ilse", wait: 4)
    page.switch_to_window(first)
    others.last.close
  end
end
