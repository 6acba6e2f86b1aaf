# frozen_string_literal: true

require_relative "browser_helper"

RSpec.describe "One search, in the browser" do
  def clean = expect(page).to be_axe_clean.according_to(:wcag2a, :wcag2aa, :wcag21aa, :wcag22aa)
  def as(who) = Yenvo::Store::Journal::Cause.person(who, Database::NOW)
  def made(kind, **values) = root.records.make(kind, values.transform_keys(&:to_s), cause: as("hollie"))["id"]

  def ask(text)
    find("body").send_keys([:control, "k"])
    find("input[aria-label='Find or go to']").send_keys(text)
  end

  it "finds a phone by its last six digits, and a note by its words, with the keys alone" do
    aldo = made("contact", title: "Aldo Renn", phone: "+353 87 123 4567")
    deal = made("deal", title: "Quiet Hour")
    root.interactions.log(deal, "call", "He wants teak decks.", cause: as("hollie"))
    sign_in("Hollie Banner", at: "/worklist")
    expect(page).to have_css("h1")
    ask "234567"
    expect(page).to have_css("[role=option]", text: "Aldo Renn Phone +353 87 123 4567")
    clean
    press(:arrow_down) unless page.has_css?("[role=option][data-headlessui-state~=active]", wait: 1)
    press(:enter)
    expect(page).to have_current_path("/record/#{aldo}")
    expect(page).to have_css("h1", text: "Aldo Renn")
    ask "teak dec"
    expect(page).to have_css("[role=option]", text: /Quiet Hour.*He wants teak decks/)
    find("[role=option]", text: "All that has “teak dec”").click
    expect(page).to have_css("h2", text: "Notes, calls and mails").and(have_text("He wants teak decks."))
    clean
    click_link "Quiet Hour"
    expect(page).to have_current_path("/record/#{deal}")
  end

  it "has a page that goes on with one sort, finds pages, and says when nothing is there" do
    deal = made("deal", title: "Quiet Hour")
    30.times { |n| root.interactions.log(deal, "note", "Varnish #{n}", cause: as("hollie")) }
    sign_in("Hollie Banner", at: "/search?text=varnish")
    click_link "All notes, calls and mails that have it"
    expect(page).to have_css("li", text: "Varnish", count: 20)
    click_button "Look further back"
    expect(page).to have_css("li", text: "Varnish", count: 30).and(have_no_button("Look further back"))
    fill_in "Words, e-mail, phone or number", with: "zebra"
    expect(page).to have_text("Nothing has “zebra”.")
    click_link "All sorts"
    fill_in "Words, e-mail, phone or number", with: "tras"
    expect(page).to have_css("[aria-label=Pages]", text: "Trash")
    clean
  end
end
