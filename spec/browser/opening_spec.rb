# frozen_string_literal: true

require_relative "browser_helper"

RSpec.describe "A house of one's own" do
  include Processes

  before do
    url = Database.make_migrated(Database.name("own"))
    @address = start_web(url, YENVO_CLOCK: Browser::CLOCK, YENVO_DEMO: "0")
    @code = ForkServer.run("code", "--at", @address, env: environment(url, YENVO_CLOCK: Browser::CLOCK))[0].strip
    Capybara.app_host = @address
    page.driver.browser.execute_cdp(
      "Emulation.setDeviceMetricsOverride", width: 1280, height: 900, deviceScaleFactor: 1, mobile: false
    )
  end

  after { stop_all }

  # Finds one of many by typing a part of its words.
  def find_one(label, words)
    input = find(:field, label)
    input.click
    input.send_keys([:control, "a"], words)
    find("[role=option]", text: words, match: :prefer_exact).click
  end

  it "is opened at the address that was printed, and its first administrator stands on the worklist" do
    visit "/worklist"
    expect(page).to have_css("h1", text: "Open your house")
    visit @code
    expect(page).to have_field("One-time code", with: @code.split("#").last)
    expect(page).to be_axe_clean.according_to(:wcag2a, :wcag2aa, :wcag21aa, :wcag22aa)
    fill_in "What it is called", with: "Ozola pianos"
    find_one("Time zone", "Europe/Riga")
    find_one("Public holidays", "Latvia")
    uncheck "Friday"
    fill_in "Your name", with: "Līga Ozola"
    fill_in "E-mail address", with: "liga@pianos.example"
    fill_in "Password", with: "1234567890"
    click_button "Open the house"
    expect(page).to have_css("[role=alert]", text: "guessed first")
    fill_in "Password", with: "felt hammer oak"
    network(offline: true)
    click_button "Open the house"
    expect(page).to have_css("[role=alert]", text: "cannot be reached just now")
    network
    # The press still has the keys, and nothing that was typed is lost.
    press(:enter)
    expect(page).to have_css("h1", text: "Worklist", visible: :all)
    expect(page).to have_css("button[aria-label='Līga Ozola, administrator']")
    within("section[aria-label='First steps']") { expect(page).to have_text("4 left") }
    click_link "Publish a rule"
    expect(page).to have_css("[role=dialog]", text: "Begin from a ready rule")
    expect(page).to have_css("[role=dialog] button", minimum: 5)
    visit "/worklist"
    click_button "Do a task"
    fill_in "What to do", with: "Order felt"
    within("[role=dialog]") { click_button "Make the task" }
    expect(page).to have_css("tr", text: "Order felt")
    expect(page).to be_axe_clean.according_to(:wcag2a, :wcag2aa, :wcag21aa, :wcag22aa)
    click_button "Put away"
    expect(page).to have_no_text("First steps")
    visit "/records/contact"
    expect(page).to have_css("h1", text: "Contacts")
    visit "/setup/deal"
    fill_in "Many are called", with: "Repairs"
    fill_in "One is called", with: "Repair"
    fill_in "Where it stands is called", with: "Step"
    click_button "Save the names"
    expect(page).to have_css("h2", text: "Steps")
    expect(page).to have_css("nav[aria-label='Parts of the set-up']", text: "Repairs")
    visit "/setup/people"
    click_button "New person"
    fill_in "Name", with: "Juris Kalns"
    fill_in "E-mail, to sign in with", with: "juris@pianos.example"
    click_button "Invite them"
    link = find("[data-test=link]").text
    expect(link).to start_with("#{@address}/welcome#")
    click_button "I have it"
    # In a browser of his own.
    Capybara.using_session(:juris) do
      visit link
      expect(page).to have_css("h1", text: "Choose your password")
      fill_in "Password", with: "password12"
      click_button "Set it and sign in"
      expect(page).to have_css("[role=alert]", text: "guessed first")
      fill_in "Password", with: "copper string seven"
      click_button "Set it and sign in"
      expect(page).to have_css("button[aria-label='Juris Kalns, member']")
      expect(page).to have_no_text("First steps")
      find("button[aria-label='Juris Kalns, member']").click
      click_link "Your page"
      expect(page).to have_css("tr", text: /Chrome on Linux.*this one/m)
      fill_in "The one you have now", with: "copper string seven"
      fill_in "The new one", with: "copper string"
      click_button "Change the password"
      expect(page).to have_text("Your password is changed")
      expect(page).to be_axe_clean.according_to(:wcag2a, :wcag2aa, :wcag21aa, :wcag22aa)
      find("button[aria-label='Juris Kalns, member']").click
      click_button "Sign out"
      click_link "Forgotten?"
      fill_in "E-mail address", with: "juris@pianos.example"
      click_button "Ask for a link"
      expect(page).to have_css("[role=status]", text: "the administrators have been told")
      visit link
      fill_in "Password", with: "copper string eight"
      click_button "Set it and sign in"
      expect(page).to have_css("[role=alert]", text: "has been used")
    end
    visit "/notices"
    expect(page).to have_text("Juris Kalns has forgotten the password")
    visit "/setup/people"
    click_button "Juris Kalns"
    click_button "A link for a new password"
    expect(page).to have_css("[data-test=link]", text: "#{@address}/welcome#")
    # The code is worth nothing any more.
    visit "/"
    visit @code
    expect(page).to have_css("h1", text: "This house is open")
  end
end
