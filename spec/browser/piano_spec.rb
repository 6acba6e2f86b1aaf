# frozen_string_literal: true

require "rotp"
require_relative "browser_helper"

# A team that has never met Yenvo begins with it: a piano workshop in Riga, from an empty database to its first week.
RSpec.describe "A piano workshop in Riga" do
  include Processes

  before do
    url = Database.make_migrated(Database.name("piano"))
    @address = start_web(url, YENVO_CLOCK: Browser::CLOCK, YENVO_DEMO: "0")
    start_worker(url, YENVO_CLOCK: Browser::CLOCK)
    @code = ForkServer.run("code", "--at", @address, env: environment(url, YENVO_CLOCK: Browser::CLOCK))[0].strip
    Capybara.app_host = @address
    wide
  end

  after { stop_all }

  def wide =
    page.driver.browser.execute_cdp(
      "Emulation.setDeviceMetricsOverride", width: 1280, height: 900, deviceScaleFactor: 1, mobile: false
    )

  def clean? = expect(page).to be_axe_clean.according_to(:wcag2a, :wcag2aa, :wcag21aa, :wcag22aa)

  def find_one(label, words)
    input = find(:field, label)
    input.click
    input.send_keys([:control, "a"], words)
    find("[role=option]", text: words, match: :prefer_exact).click
  end

  def in_dialog(&block) = within("[role=dialog]", &block)

  def open_house
    visit @code
    fill_in "What it is called", with: "Ozola pianos"
    find_one("Time zone", "Europe/Riga")
    find_one("Public holidays", "Latvia")
    fill_in "Your name", with: "Līga Ozola"
    fill_in "E-mail address", with: "liga@pianos.example"
    fill_in "Password", with: "felt hammer oak"
    click_button "Open the house"
    expect(page).to have_css("h1", text: "Worklist", visible: :all)
  end

  # @return [String] the link by which they choose a password
  def invite(name)
    visit "/setup/people"
    click_button "New person"
    fill_in "Name", with: name
    fill_in "E-mail, to sign in with", with: "#{name.split.first.downcase}@pianos.example"
    choose_several("Teams", "Workshop")
    click_button "Invite them"
    find("[data-test=link]").text.tap { click_button "I have it" }
  end

  # Somebody in a browser of their own.
  def as(name, link)
    Capybara.using_session(name) do
      wide
      visit link
      fill_in "Password", with: "copper string seven"
      click_button "Set it and sign in"
      expect(page).to have_css("h1", text: "Worklist", visible: :all)
      yield
    end
  end

  def set_up_second_step
    visit "/me"
    click_button "Set up a second step"
    secret = find("[data-test=secret]").text.delete(" ").downcase
    fill_in "2. The code it shows now", with: ROTP::TOTP.new(secret).now
    fill_in "3. Your password", with: "copper string seven"
    click_button "Set it up"
    click_button "I have kept them"
    expect(page).to have_button("Recovery codes")
  end

  def set_up_desks
    visit "/setup/desks"
    click_button "New team"
    fill_in "Name", with: "Workshop"
    click_button "Add the team"
    click_button "New queue"
    fill_in "Name", with: "Repairs"
    choose_from("Who takes from it", "Workshop")
    choose_several("Tasks about", "Tickets")
    click_button "Add the queue"
    expect(page).to have_css("tr", text: /Repairs.*Workshop.*Tickets/m)
  end

  def close_over_christmas
    visit "/setup/house"
    click_button "Add days off"
    find("input[aria-label^='What day off']").set("Workshop shut")
    find("input[aria-label='First day of Workshop shut']").send_keys("12242026")
    find("input[aria-label='Last day of Workshop shut']").send_keys("01012027")
    check "each year"
    expect(page).to have_css("section[aria-label='December 2026']", text: "24–31 Workshop shut")
    click_button "Save the house"
    expect(page).to have_text("The house is saved.")
  end

  def add_list
    visit "/setup/deal"
    click_button "New list"
    fill_in "Name of the list", with: "Tuning rounds"
    fill_in "What one entry is called", with: "Tuning"
    click_button "Add the list"
    expect(page).to have_css("h2", text: "Sections")
    click_button "New field"
    fill_in "Name", with: "Piano"
    check "has to be filled in"
    click_button "Add the field"
    expect(page).to have_css("tr", text: /Piano.*required/m)
  end

  def publish_ready_rule
    visit "/rules"
    click_button "Ready rules"
    in_dialog { click_button "New deal: call the owner" }
    click_button "Make a draft of it"
    find("tr[data-row='0'] td:last-child button[draggable]", text: "Call about").click
    choose_from("If that is nobody or away: queue", "For anyone")
    click_button "Publish version 1"
    expect(page).to have_text("Version 1 is published")
  end

  it "begins on Monday: opened, people in, a rule that makes a task, a program, somebody leaves, and all of it told" do
    open_house
    close_over_christmas
    set_up_desks
    ilze, juris = ["Ilze Liepa", "Juris Kalns"].map { |name| invite(name) }
    as(:ilze, ilze) { set_up_second_step }
    as(:juris, juris) { visit "/worklist" }
    add_list
    publish_ready_rule
    visit "/records/deal"
    click_button "New deal"
    fill_in "Title", with: "Upright of 1912"
    click_button "Make the deal"
    expect(page).to have_css("h1", text: "Upright of 1912")
    visit "/worklist"
    find("tr", text: "Call about Upright of 1912").click
    click_button "Interested"
    expect(page).to have_no_css("tr", text: "Call about Upright of 1912")

    visit "/setup/tokens"
    click_button "New token for a program"
    fill_in "Name of the program", with: "Website"
    fill_in "What it is for", with: "Enquiries"
    check "make and change records"
    click_button "Make the token"
    token = find("[data-test=token]").text
    click_button "I have it"
    expect(made_by(token, "Grand of 1898")).to eq("201")
    visit "/records/deal"
    expect(page).to have_css("tr", text: "Grand of 1898")

    give("Grand of 1898", "Juris Kalns")
    keep_deals_apart
    Capybara.using_session(:juris) do
      visit "/records/deal"
      expect(page).to have_css("tr", text: "Grand of 1898")
      expect(page).to have_no_text("Upright of 1912")
    end
    Capybara.using_session(:ilze) do
      visit "/records/deal"
      expect(page).to have_text("No deals yet")
      visit @grand
      expect(page).to have_text(/There is no record \d+/)
    end

    visit "/setup/people"
    click_button "Juris Kalns"
    click_button "They leave"
    choose_from("Records that they own", "Ilze Liepa")
    click_button "End the account and hand over"
    expect(page).to have_css("[role=dialog]", text: /Hand-over of Juris Kalns.*1 thing moved/m)
    click_button "Close"
    Capybara.using_session(:ilze) do
      visit "/records/deal"
      expect(page).to have_css("tr", text: "Grand of 1898")
    end
    Capybara.using_session(:juris) do
      visit "/worklist"
      expect(page).to have_css("h1", text: "Sign in to Ozola pianos")
    end

    visit "/setup/audit"
    clean?
    [
      "opened the house Ozola pianos", "changed the setting days off", "added the team Workshop", "added Juris Kalns",
      "Ilze Liepa set up a second step", "added the field Piano of Tuning rounds",
      "published version 1 of the rule “New deal: call the owner”", "made the token “Enquiries” for Website",
      "changed the records Deals", "changed Juris Kalns"
    ].each { |words| expect(page).to have_css("tr", text: words) }
  end

  # Of two in one team neither sees the deals of the other.
  def keep_deals_apart
    visit "/setup/access"
    clean?
    click_button "Deals"
    within(:fieldset, "Seen by") { choose "the owner and leads of that team" }
    in_dialog { expect(page).to have_css("li", text: /Ilze Liepa\s*0 of 2/) }
    expect(find(:fieldset, "Changed by")).to have_field("everyone", disabled: true)
    clean?
    click_button "Save"
    expect(page).to have_css("tr", text: /Deals.*the owner and leads of that team/m)
  end

  def give(title, person)
    visit "/records/deal"
    click_link title
    click_button "Change Owner"
    choose_from("Owner", person)
    click_button "Save"
    expect(page).to have_css("dd", text: person)
    @grand = URI(page.current_url).path
  end

  def made_by(token, title)
    body = JSON.generate(kind: "deal", values: {title:, owner: nil})
    headers = {"authorization" => "Bearer #{token}", "content-type" => "application/json"}
    Net::HTTP.post(URI("#{@address}/api/records"), body, headers).code
  end
end
