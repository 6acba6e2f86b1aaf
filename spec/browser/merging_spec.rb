# frozen_string_literal: true

require_relative "browser_helper"

RSpec.describe "Merging, in the browser" do
  def clean = expect(page).to be_axe_clean.according_to(:wcag2a, :wcag2aa, :wcag21aa, :wcag22aa)
  def as(who) = Yenvo::Store::Journal::Cause.person(who, Database::NOW)
  def made(kind, **values) = root.records.make(kind, values.transform_keys(&:to_s), cause: as("hollie"))["id"]

  def two_owners
    [
      made("contact", title: "Aldo Renn", email: "aldo@sea.example", phone: "+353 1 111111"),
      made("contact", title: "Renn Aldo", email: "aldo@sea.example", phone: "+353 1 222222")
    ]
  end

  it "merges two contacts field by field, and parts them" do
    one, other = two_owners
    deal = made("deal", title: "Quiet Hour", boat_owner: other)
    root.interactions.log(other, "call", "He rang.", cause: as("hollie"))
    sign_in("Hollie Banner", at: "/duplicates/contact")
    expect(page).to have_text("2 with the same e-mail and words in the title")
    clean
    click_button "Merge…"
    expect(page).to have_text("With their history come 1 note or call, 1 record that leads there.")
    clean
    choose "+353 1 222222"
    click_button "Merge into “Aldo Renn”"
    expect(page).to have_css("h1", text: "Aldo Renn").and(have_text("He rang.")).and(have_text("merged Renn Aldo into"))
    expect(page).to have_text("+353 1 222222").and(have_text("Merged with Renn Aldo"))
    visit "/record/#{other}"
    expect(page).to have_text("It was merged with another")
    click_link "Aldo Renn"
    click_button "Part them again"
    expect(page).to have_text("They are apart again.").and(have_no_text("He rang."))
    visit "/record/#{other}"
    expect(page).to have_css("h1", text: "Renn Aldo").and(have_text("He rang.")).and(have_link("Quiet Hour"))
    expect(root.records.find!(deal)["boat_owner"]).to eq(other)
    expect(root.records.find!(one)["phone"]).to eq("+353 1 111111")
  end

  it "puts away those that are not the same, and lets another stay, with the keys alone" do
    one, other = two_owners
    sign_in("Hollie Banner", at: "/merge?records=#{one},#{other}")
    find_button("Let this one stay").send_keys(:enter)
    expect(page).to have_button("Merge into “Renn Aldo”")
    expect(page).to have_current_path("/merge?records=#{other},#{one}", url: false)
    visit "/duplicates/contact"
    find_button("Not the same").send_keys(:enter)
    expect(page).to have_text("No contacts look the same")
  end
end
