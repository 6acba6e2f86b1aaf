# frozen_string_literal: true

require_relative "browser_helper"

RSpec.describe "A record that may be there already, in the browser" do
  it "is named while another is typed, and stops nobody" do
    cause = Yenvo::Store::Journal::Cause.person("hollie", Database::NOW)
    root.records.make("contact", {"title" => "Aldo Renn", "email" => "aldo@sea.example"}, cause:)
    sign_in("Hollie Banner", at: "/records/contact")
    click_button "New contact"
    fill_in "Title", with: "A. Renn"
    fill_in "E-mail", with: "Aldo@sea.example"
    within("[role=dialog]") do
      expect(page).to have_css("[role=status]", text: /This may be there already:.*Aldo Renn has the same e-mail/m)
    end
    expect(page).to be_axe_clean.according_to(:wcag2a, :wcag2aa, :wcag21aa, :wcag22aa)
    click_button "Make the contact"
    expect(page).to have_no_css("[role=dialog]").and(have_text("A. Renn"))
    expect(root.db[:records].where(kind: "contact").select_order_map(:title)).to eq(["A. Renn", "Aldo Renn"])
  end
end
