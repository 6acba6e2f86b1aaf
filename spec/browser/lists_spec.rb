# frozen_string_literal: true

require_relative "browser_helper"

RSpec.describe "Lists, in the browser", :engine do
  def clean = expect(page).to be_axe_clean.according_to(:wcag2a, :wcag2aa, :wcag21aa, :wcag22aa)
  def as(who) = Yenvo::Store::Journal::Cause.person(who, Database::NOW)
  def made(kind, **values) = root.records.make(kind, values.transform_keys(&:to_s), cause: as("hollie"))["id"]

  def open_tasks = root.db[:tasks].where(open: true).count
  def stages = root.db[:records].where(kind: "deal").group_and_count(:stage).as_hash(:stage, :count)

  it "moves 300 deals a stage at once with their tasks, is stopped half-way, and undone as one" do
    publish(
      "name" => "Quote them", "trigger" => {"when" => "stage_entered", "stages" => ["quoted"]},
      "branches" => [{"do" => [{"action" => "task", "title" => "Quote {{ record.title }}",
                                "assign" => {"to" => "queue", "queue" => "callbacks"}}]}]
    )
    stub_const("Yenvo::Engine::ChangingMany::BIT", 10)
    300.times { |n| made("deal", title: "Boat #{n}") }
    sign_in("Hollie Banner", at: "/records/deal")
    expect(page).to have_css("td", text: "Boat 299")
    check "Choose all that are shown"
    click_button "Choose all that match"
    expect(page).to have_text("300 deals chosen")
    clean
    click_button "Change 300 deals…"
    within("[role=dialog]") do
      find("button[aria-label^='Stage:']").click
      find("[role=option]", text: "Quoted").click
      clean
    end
    Browser.without_worker do
      click_button "Change 300 deals"
      expect(page).to have_css("h1", text: "Stage to Quoted")
      Yenvo::Engine::LongWork.new(root).take(now: Database::NOW)
      expect(page).to have_text("10 of 300")
      click_button "Stop it"
      expect(page).to have_text("It was stopped; what is done stands.")
    end
    done = 10
    expect(page).to have_text("10 changed, 0 were so already, 0 refused, 290 not yet looked at.")
    clean
    work
    expect([stages, open_tasks]).to eq([{"enquiry" => 300 - done, "quoted" => done}, done])
    click_button "Undo all of it"
    expect(page).to have_text("#{done} as they were", wait: 30)
    expect([stages, open_tasks]).to eq([{"enquiry" => 300}, 0])
    click_link "All your changes of many"
    expect(page).to have_css("tr", text: /Stage to Quoted.*300.*undone/)
    clean
  end

  it "is narrowed by any field, shows chosen columns, and is kept as a view, with the keys alone" do
    made("deal", title: "Quiet Hour", order_number: "AB-12")
    made("deal", title: "Grey Wren")
    sign_in("Hollie Banner", at: "/records/deal")
    find("button[aria-label^='Filter by']").send_keys(:enter)
    find("[role=option]", text: "Order number").click
    find("button", text: "Order number", match: :first).send_keys(:enter)
    fill_in "Order number: words in it", with: "b-1\n"
    expect(page).to have_no_css("td", text: "Grey Wren").and(have_css("td", text: "Quiet Hour"))
    clean
    page.send_keys(:escape)
    find("button", text: "Columns").send_keys(:enter)
    find("button", text: "Order number", exact_text: true, match: :first).send_keys(:enter)
    find_button("Leave out Value").send_keys(:enter)
    clean
    expect(page).to have_css("th", text: "Order number").and(have_no_css("th", text: "Value"))
    page.send_keys(:escape)
    find("button", text: "Views").click
    click_button "Keep what is shown as a view…"
    fill_in "What it is called", with: "With a number"
    clean
    within("[role=dialog]") { click_button "Keep it" }
    expect(page).to have_css("button", text: "With a number")
    click_button "Show all"
    expect(page).to have_css("td", text: "Grey Wren")
    find("button", text: "Views").click
    find("[role=menuitem]", text: "With a number", match: :first).click
    expect(page).to have_no_css("td", text: "Grey Wren").and(have_css("th", text: "Order number"))
  end

  it "writes down a call of another day" do
    deal = made("deal", title: "Quiet Hour")
    sign_in("Hollie Banner", at: "/record/#{deal}")
    fill_in "What was said", with: "He rang then."
    click_button "It was earlier"
    page.execute_script("const box = document.querySelector('[aria-label=\"When it was\"]');" \
      "box.value = '2026-11-20T09:30'; box.dispatchEvent(new Event('input'))")
    clean
    click_button "Log the note"
    expect(page).to have_text("He rang then.").and(have_text("Fri 20 Nov 09:30"))
    expect(root.db[:interactions].get(:at)).to eq(Time.utc(2026, 11, 20, 9, 30))
  end
end
