# frozen_string_literal: true

require_relative "browser_helper"

RSpec.describe "Lists, in the browser" do
  def clean = expect(page).to be_axe_clean.according_to(:wcag2a, :wcag2aa, :wcag21aa, :wcag22aa)
  def as(who) = Yenvo::Store::Journal::Cause.person(who, Database::NOW)
  def made(kind, **values) = root.records.make(kind, values.transform_keys(&:to_s), cause: as("hollie"))["id"]

  def work_out
    long = Yenvo::Engine::LongWork.new(root, log: SemanticLogger["spec"])
    nil while root.jobs.under_way? && long.take(now: root.db[:jobs].max(:at))
  end

  it "moves many deals at once, and undoes it as one" do
    55.times { |n| made("deal", title: "Boat #{n}") }
    sign_in("Hollie Banner")
    visit "/records/deal"
    check "Choose all that are shown"
    click_button "Choose all that match"
    expect(page).to have_text("55 deals chosen")
    clean
    click_button "Change 55 deals…"
    within("[role=dialog]") do
      click_button "Becomes", match: :first if page.has_button?("Becomes", wait: 0)
      find("button[aria-label^='Stage:']").click
      find("[role=option]", text: "Quoted").click
      clean
      click_button "Change 55 deals"
    end
    expect(page).to have_css("h1", text: "Stage to Quoted")
    work_out
    expect(page).to have_text("55 changed, 0 were so already, 0 refused.")
    clean
    expect(root.db[:records].where(stage: "quoted").count).to eq(55)
    click_button "Undo all of it"
    expect(page).to have_text(/undone/)
    work_out
    expect(page).to have_text("55 as they were")
    expect(root.db[:records].where(stage: "quoted").count).to eq(0)
    click_link "All your changes of many"
    expect(page).to have_css("tr", text: /Stage to Quoted.*55.*undone/)
    clean
  end

  it "is narrowed by any field, shows chosen columns, and is kept as a view, with the keys alone" do
    made("deal", title: "Quiet Hour", order_number: "AB-12")
    made("deal", title: "Grey Wren")
    sign_in("Hollie Banner")
    visit "/records/deal"
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
    sign_in("Hollie Banner")
    visit "/record/#{deal}"
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
