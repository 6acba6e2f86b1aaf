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
    sign_in("Hollie Banner")
    visit "/record/#{deal}"
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
end
