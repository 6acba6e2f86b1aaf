# frozen_string_literal: true

require_relative "browser_helper"

RSpec.describe "Finding" do
  it "comes to a contact by the last six digits of the phone, with the keys alone" do
    values = {"title" => "Aldo Renn", "phone" => "+353 555 014-731"}
    id = root.records.make("contact", values, cause: Yenvo::Store::Journal::Cause.person("hollie", Database::NOW))["id"]
    sign_in("Hollie Banner")
    find("body").send_keys([:control, "k"])
    find("input[aria-label='Find or go to']").send_keys("014731")
    expect(page).to have_css("[role=option]", text: "Aldo Renn Phone +353 555 014-731")
    expect(page).to be_axe_clean.according_to(:wcag2a, :wcag2aa, :wcag21aa, :wcag22aa)
    press(:arrow_down) unless page.has_css?("[role=option][data-headlessui-state~=active]", wait: 1)
    press(:enter)
    expect(page).to have_current_path("/record/#{id}")
  end
end
