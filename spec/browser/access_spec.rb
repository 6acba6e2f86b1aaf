# frozen_string_literal: true

require_relative "browser_helper"

RSpec.describe "Access in the browser" do
  def clean? = expect(page).to be_axe_clean.according_to(:wcag2a, :wcag2aa, :wcag21aa, :wcag22aa)
  def level(group) = find(:fieldset, group).find("input:checked").value

  around { |example| keeping_setup { example.run } }

  before do
    change(make("deal", {"title" => "Ours", "owner" => "hollie"})["id"], {"value" => "4350"})
    make("deal", {"title" => "Theirs", "owner" => "tobias"})
  end

  it "is set by the keys alone, keeps what was chosen when the answer does not come, and holds at once" do
    sign_in("Maren Oduya", at: "/setup/access")
    find_button("Deals").send_keys(:enter)
    find(:fieldset, "Seen by").find("input:checked").send_keys(:down)
    expect(page).to have_css("[role=dialog] li", text: /Osk Lindahl\s*1 of 2/)
    expect(%w[Seen Changed].map { |verb| level("#{verb} by") }).to eq(%w[team team])
    network(offline: true)
    find(:fieldset, "Seen by").find("input:checked").send_keys(:enter)
    expect(page).to have_css("[role=dialog] [role=alert]")
    expect(level("Seen by")).to eq("team")
    network
    find_button("Save").send_keys(:enter)
    expect(page).to have_css("tr", text: /Deals.*the owner's team/m)
    sign_in("Osk Lindahl", at: "/records/deal")
    expect(page).to have_css("tr", text: "Ours")
    expect(page).to have_no_text("Theirs")
  end

  it "leaves who may only see a record nothing to press that would change it" do
    Yenvo::Store::AccessChanges.new(root).change(
      "deal", {"seen_by" => "team", "changed_by" => "owner", "taken_away_by" => "owner", "kept" => %w[value]},
      cause: cause("maren")
    )
    sign_in("Osk Lindahl", at: "/records/deal")
    click_link "Ours"
    expect(page).to have_text("Changed by the owner and leads of that team; you read along.")
    expect(page).to have_no_button("Change the title").and have_no_button("Change Owner")
    expect(page).to have_no_button("Link a record")
    expect(page).to have_no_text("Value")
    clean?
    fill_in "note-box", with: "Rang twice"
    click_button "Log the note"
    expect(page).to have_css("li", text: "Rang twice")
  end

  it "shows a lead the tasks that somebody has and may not see" do
    deal = make("deal", {"title" => "Wen's", "owner" => "wen"})["id"]
    root.tasks.make({"title" => "Ring", "record_id" => deal, "assignee" => "osk"}, cause:)
    Yenvo::Store::AccessChanges.new(root).change(
      "deal", {"seen_by" => "team", "changed_by" => "team", "taken_away_by" => "owner", "kept" => []},
      cause: cause("maren")
    )
    sign_in("Tobias Kell", at: "/team")
    expect(page).to have_text("Tasks that are with somebody who may not see what they are about; pass them on: Osk")
    clean?
    first(:link, "Osk Lindahl").click
    expect(page).to have_css("tr", text: "Ring")
  end
end
