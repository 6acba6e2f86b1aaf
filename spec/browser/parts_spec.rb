# frozen_string_literal: true

require_relative "browser_helper"

# Pages and dialogs are parts of their own; what happens when one does not come.
RSpec.describe "A part of a page that does not come" do
  def block(*urls)
    page.driver.browser.execute_cdp("Network.enable")
    page.driver.browser.execute_cdp("Network.setBlockedURLs", urls:)
  end

  after { block }

  it "is named in a sentence, leaves what stood there, and is fetched by a press when it is there again" do
    sign_in "Maren Oduya"
    expect(page).to have_css("h1", text: "Worklist")
    block("*/assets/TrailPage*")
    click_link "Trail"
    expect(page).to have_text("This page could not be loaded. Nothing was lost; try again in a moment.")
    expect(page).to have_css("h1", text: "Worklist")
    block
    click_button "Try again"
    expect(page).to have_css("h1", text: "Trail")
    expect(page).to have_no_text("could not be loaded")
  end

  it "says so of a dialog, which opens when it is asked for again" do
    sign_in "Maren Oduya"
    expect(page).to have_css("h1", text: "Worklist")
    visit "/rules"
    expect(page).to have_css("h1", text: "Rules")
    block("*/assets/NewTaskDialog*")
    visit "/worklist"
    expect(page).to have_css("h1", text: "Worklist")
    click_button "New task"
    expect(page).to have_text("This could not be loaded. Nothing was lost; try again in a moment.")
    block
    visit "/worklist"
    click_button "New task"
    expect(page).to have_css("[role=dialog]", text: "What to do")
  end
end
