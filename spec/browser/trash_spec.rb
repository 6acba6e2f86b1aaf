# frozen_string_literal: true

require_relative "browser_helper"

RSpec.describe "The trash, in the browser" do
  def clean = expect(page).to be_axe_clean.according_to(:wcag2a, :wcag2aa, :wcag21aa, :wcag22aa)
  def made(kind, **values) = root.records.make(kind, values.transform_keys(&:to_s), cause: as("hollie"))["id"]
  def as(who) = Yenvo::Store::Journal::Cause.person(who, Database::NOW)

  it "takes a deal with what hangs on it; its links say so; it comes back whole, with the keys alone" do
    deal = made("deal", title: "Quiet Hour")
    ticket = made("ticket", title: "Pump", boat: deal)
    task = root.tasks.make({"title" => "Ring Aldo", "record_id" => deal, "assignee" => "hollie"}, cause: as("hollie"))
    root.interactions.log(deal, "call", "He rang.", cause: as("hollie"))
    sign_in("Hollie Banner", at: "/record/#{deal}")
    click_button "Take away"
    expect(page).to have_css("[role=dialog]",
      text: "With it go 1 note or call; 1 open task, which is dropped; 1 link.")
    clean
    within("[role=dialog]") { click_button "Take it away" }
    expect(page).to have_text("It was taken away by Hollie Banner")
    visit "/record/#{ticket}"
    expect(page).to have_link("Quiet Hour (in the trash)", href: "/record/#{deal}")
    visit "/trash"
    expect(page).to have_css("tr", text: /Quiet Hour.*Deal.*by Hollie Banner/m)
    clean
    find_button("Bring it back").send_keys(:enter)
    expect(page).to have_text("“Quiet Hour” is back.").and(have_text("Nothing lies in the trash."))
    expect(root.db[:tasks].where(id: task[:id]).get(:state)).to eq("open")
    visit "/record/#{ticket}"
    expect(page).to have_link("Quiet Hour", exact: true)
    visit "/record/#{deal}"
    expect(page).to have_text("He rang.").and(have_text("Ring Aldo"))
  end

  it "is erased by an administrator, who is told what goes; then nothing of it is there" do
    gone = made("deal", title: "Zadok Reed")
    ticket = made("ticket", title: "Pump of Zadok Reed", boat: gone)
    root.interactions.log(gone, "call", "He rang.", cause: as("hollie"))
    root.trash.remove(gone, cause: as("hollie"))
    sign_in("Maren Oduya", at: "/trash")
    click_button "Erase “Zadok Reed” for good"
    expect(page).to have_css("[role=dialog]", text: /1 note or call.*the record that was linked/m)
    clean
    within("[role=dialog]") { click_button "Leave it in the trash" }
    expect(page).to have_css("tr", text: "Zadok Reed")
    find_button("Erase “Zadok Reed” for good").send_keys(:enter)
    within("[role=dialog]") { find_button("Erase it for good").send_keys(:enter) }
    expect(page).to have_text("“Zadok Reed” is being erased.").and(have_text("Nothing lies in the trash."))
    root.erasing.some(now: root.db[:trash].max(:erase_at))
    visit "/record/#{ticket}"
    expect(page).to have_css("h1", text: "Pump of (erased)").and(have_no_text("Zadok"))
    visit "/record/#{gone}"
    expect(page).to have_text("There is no record #{gone}")
  end
end
