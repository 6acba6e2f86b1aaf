# frozen_string_literal: true

require_relative "browser_helper"
require_relative "../support/hands"
require_relative "../support/outside"
require_relative "../support/form_words"

RSpec.describe "Forms in the browser" do
  include FormWords
  include OutsideWorld

  let(:hand) { Hands::Mouse.new(page) }

  after { close_all }

  def cause(person) = Yenvo::Store::Journal::Cause.person(person, Database::NOW)
  def db = root.db
  def clean = expect(page).to be_axe_clean.according_to(:wcag2a, :wcag2aa, :wcag21aa, :wcag22aa)
  def house = Browser.house[1]
  def requests = db[:records].where(kind: "entry/survey_requests").order(:id)

  # A page of somebody else, on another origin, that shows the form in a frame.
  def another_site(form)
    page = "<!doctype html><html lang=en><title>Sea</title><h1>The sea</h1>" \
      "<iframe src=\"#{house}/f/#{form[:address]}\" title=Survey width=600 height=1200></iframe>"
    serve(->(_env) { [200, {"content-type" => "text/html"}, [page]] }).sub("127.0.0.1", "localhost")
  end

  def width(width) = page.driver.browser.execute_cdp("Emulation.setDeviceMetricsOverride", width:, height: 900,
    deviceScaleFactor: 1, mobile: width < 500)

  # Nothing runs in the frame that shows the form, so that it cannot be looked at with the page around it; on its own it
  # is.
  def clean_beside_frame
    Axe::Configuration.instance.skip_iframes = true
    expect(page).to be_axe_clean.according_to(:wcag2a, :wcag2aa, :wcag21aa, :wcag22aa).excluding("iframe")
  ensure
    Axe::Configuration.instance.skip_iframes = nil
  end

  it "are sent twice from another site's page, and one contact with two requests is there" do
    # Which site it is, is known when it has begun to answer.
    form = a_form
    site = another_site(form)
    root.forms.write(form[:key], FormWords::SURVEY.merge("origins" => [site]), cause: cause("maren"))
    root.forms.publish(form[:key], cause: cause("maren"))
    %w[Petrel Tern].each do |boat|
      visit site
      within_frame(find("iframe")) do
        fill_in "Your name", with: "Aldo Renn"
        fill_in "Your e-mail", with: "aldo@sea.example"
        fill_in "Your boat", with: boat
        select "Insurance", from: "What for"
        check "You may keep this."
        send_form { click_button "Send" }
        expect(page).to have_text("Thank you.")
      end
    end
    expect(requests.select_map(:title)).to eq(%w[Petrel Tern])
    contact = db[:records].where(kind: "contact").select_map(%i[id title])
    expect(contact.map(&:last)).to eq(["Aldo Renn"])
    sign_in("Hollie Banner", at: "/record/#{contact[0][0]}")
    expect(page).to have_text("Petrel").and(have_text("Tern"))
  end

  it "are shown by no other site than those they name" do
    visit another_site(a_form)
    within_frame(find("iframe")) { expect(page).to have_no_css("form", wait: 2) }
  end

  it "are filled in with the keys alone at 360 px; what is wrong is said where it is and loses nothing" do
    form = a_form
    width(360)
    visit "/f/#{form[:address]}"
    clean
    press(:tab, "Aldo Renn", :tab, "nobody", :tab, :tab, "Petrel", :tab, :tab, :tab, :tab, :tab)
    find("button[type=submit]").send_keys(:enter)
    expect(page).to have_css("#wrong a", text: "Your e-mail takes an e-mail address")
    clean
    expect(page).to have_css("#wrong:focus").and(have_css("#f1[aria-invalid=true][aria-describedby=f1-wrong]"))
    expect(find_field("Your boat").value).to eq("Petrel")
    expect(page.evaluate_script("document.documentElement.scrollWidth")).to eq(360)
    press(:tab, :enter)
    expect(page).to have_css("#f1:focus")
    press([:control, "a"], "aldo@sea.example")
    find_by_id("consent").send_keys(:space)
    send_form { find("button[type=submit]").send_keys(:enter) }
    expect(page).to have_css("[role=status]:focus", text: "Thank you.")
    clean
    expect(requests.select_map(:title)).to eq(["Petrel"])
  end

  it "say so when nothing answers, and keep what was typed" do
    form = a_form
    visit "/f/#{form[:address]}"
    fill_in "Your boat", with: "Petrel"
    network(offline: true)
    click_button "Send"
    expect(page).to have_css("#wrong", text: "It could not be sent just now. What you wrote still stands here")
    network
    expect(find_field("Your boat").value).to eq("Petrel")
  end

  it "are written, looked at, published, closed and taken away in the set-up" do
    keeping_setup do
      sign_in("Maren Oduya", at: "/setup/forms")
      expect(page).to have_text("No form yet.")
      click_button "New form"
      fill_in "Name", with: "Ask us"
      hand.choose "Makes", "Survey requests"
      clean
      click_button "Go on"
      expect(page).to have_css("[data-test=form-state]", text: "Draft. Nobody outside sees it yet.")
      hand.choose "Ask more", "Survey request: Wanted by"
      within("[data-test=asks] li[aria-label='Survey request: Wanted by']") do
        find("[aria-label='What visitors read']").fill_in(with: "By when")
        check "needed"
        click_button "Ask it earlier"
      end
      hand.choose "Fill in a field", "Message"
      fill_in "Message", with: "From the form"
      within_frame(find("iframe")) { expect(page).to have_field("By when") }
      clean_beside_frame
      fill_in "Heading", with: ""
      expect(page).to have_text("It must have a few words.")
      expect(page).to have_button("Publish as version 1", disabled: true)
      fill_in "Heading", with: "Ask us about surveys"
      click_button "Publish as version 1"
      expect(page).to have_css("[data-test=form-state]", text: "Visitors see version 1.")
      form = root.forms.find!("ask_us")
      expect(root.forms.body("ask_us", 1)).to include("fixed" => {"message" => "From the form"},
        "items" => [hash_including("ask" => "contact:title"), hash_including("ask" => "wanted_by", "required" => true),
          hash_including("ask" => "contact:email")])
      fill_in "Thanks", with: "Fair winds."
      click_button "Save the draft"
      expect(page).to have_css("[data-test=form-state]", text: "the draft says something else")
      click_button "Close it"
      expect(page).to have_button("Open it again")
      click_button "Back"
      expect(page).to have_css("td", text: "closed")
      visit "/f/#{form[:address]}"
      expect(page).to have_text("This form is closed just now.")
      visit "/setup/forms?open=ask_us"
      click_button "Take it away"
      click_button "Bring back Ask us"
      expect(page).to have_css("td button", text: "Ask us")
    end
  end
end
