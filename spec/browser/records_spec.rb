# frozen_string_literal: true

require_relative "browser_helper"

RSpec.describe "Records" do
  let(:deal) { make("deal", "title" => "Quiet Hour", "value" => 4350, "boat_length" => 9.1)["id"] }

  it "are made, found, filtered, edited in place, linked and noted" do
    make("contact", "title" => "Aldo Ferrant")
    sign_in "Hollie Banner"
    click_link "Records"
    click_button "New deal"
    within("[role=dialog]") do
      find_field("Title").set("Marigold Tern")
      find_field("Value").set("a lot")
      find_field("Survey date").set(Date.new(2026, 12, 17))
      click_button "Make the deal"
      expect(page).to have_text("Value takes a number such as 12 or 9.1; “a lot” is none.")
      find_field("Value").set("12,900")
      find("input[aria-label='Owner of the boat']").send_keys("aldo")
      find("[role=option]", text: "Aldo Ferrant").click
      click_button "Make the deal"
    end
    expect(page).to have_css("h1", text: "Marigold Tern")
    expect(page).to have_css("dd", text: "€12,900")
    click_button "Change Boat length"
    find("dd input").set("long")
    click_button "Save"
    expect(page).to have_text("Boat length takes a number such as 12 or 9.1; “long” is none.")
    find("dd input").set("13.4")
    find("dd input").send_keys(:enter)
    expect(page).to have_css("dd", text: "13.4 m")
    fill_in "What was said", with: "Keys are with the harbour office."
    click_button "Log the note"
    expect(page).to have_css("li", text: "logged a note. Keys are with the harbour office.")
    find("body").send_keys([:control, "k"])
    find("[role=dialog] input").send_keys("aldo")
    find("[role=option]", text: "Aldo Ferrant").click
    expect(page).to have_css("h1", text: "Aldo Ferrant")
    expect(page).to have_css("dd", text: "Marigold Tern as owner of the boat")
    visit "/records/deal"
    choose_several "Stage", "Quoted"
    expect(page).to have_text("Nothing matches")
  end

  it "break what is too long for the side instead of running out of it" do
    email = "a.very.long.name.indeed@post.harbour.example"
    contact = make("contact", "title" => "Aldo Ferrant", "email" => email)["id"]
    sign_in("Hollie Banner", at: "/record/#{contact}")
    expect(page).to have_css("dd", text: email)
    width = ->(name) { page.evaluate_script("document.querySelector('dl').#{name}") }
    needed, there = %w[scrollWidth clientWidth].map(&width)
    expect(needed).to be <= there
  end

  it "keep what is being typed when somebody else changes the record" do
    sign_in("Hollie Banner", at: "/record/#{deal}")
    click_button "Change Value"
    find("dd input").set("5000")
    change(deal, {"boat_length" => 9.2}, who: "osk")
    change(deal, {"value" => 4000}, who: "osk")
    # The page hears of it, but the value that is being typed stays.
    expect(page).to have_css("dd", text: "9.2 m")
    expect(find("dd input").value).to eq("5000")
  end

  it "lets the person choose which of two values stands" do
    sign_in("Hollie Banner", at: "/record/#{deal}")
    click_button "Change Value"
    find("dd input").set("5000")
    # What somebody else does while this page hears nothing of it.
    page.execute_script(
      "window.fetch = ((fetch) => (request) => request.method === 'PATCH' ? fetch(request) : new Promise(() => " \
      "{}))(window.fetch)"
    )
    change(deal, {"value" => 4000}, who: "osk")
    click_button "Save"
    expect(page).to have_css("[role=dialog]", text: /Value.*€5,000.*€4,000.*Osk Lindahl/m)
    expect(root.records.find!(deal)["value"]).to eq(4000)
    click_button "Save mine over it"
    wait_until("mine is saved") { root.records.find!(deal)["value"] == 5000 }
  end

  it "show what others do without a reload" do
    sign_in("Hollie Banner", at: "/record/#{deal}")
    expect(page).to have_css("h1", text: "Quiet Hour")
    change(deal, {"stage" => "quoted"}, who: "osk")
    expect(page).to have_css("li", text: "Osk Lindahl moved the deal from Enquiry to Quoted", wait: 3)
  end
end

RSpec.describe "Rules in the browser" do
  it "can be read but not written by a member, who sees why" do
    id = publish(survey_rule)[:id]
    sign_in "Hollie Banner"
    click_link "Rules"
    expect(page).to have_text("You can read rules. Administrators write them; you are signed in as a member.")
    expect(page).to have_no_link("New rule")
    visit "/rules/#{id}"
    expect(page).to have_text("You can read this rule. Administrators change rules; you are signed in as a member.")
    expect(page).to have_no_button("Publish", exact: false)
    find("[data-row='0'] button", text: "Call about").click
    expect(page).to have_no_field("Title")
  end

  it "are one rule, whole, however slowly the first save is answered" do
    sign_in("Maren Oduya", at: "/rules/new")
    name = find("input[aria-label='Name of the rule']")
    network latency: 1500
    name.send_keys("Survey")
    expect(page).to have_text("Saving")
    name.send_keys(" booked")
    expect(page).to have_text("Draft saved", wait: 15)
    wait_until("the name is saved", seconds: 15) { root.db[:rules].select_map(:name) == ["Survey booked"] }
    expect(find("input[aria-label='Name of the rule']").value).to eq("Survey booked")
  end

  it "tell a second writer, who chooses which draft stands" do
    id = publish(survey_rule)[:id]
    sign_in("Maren Oduya", at: "/rules/#{id}")
    expect(page).to have_css("input[aria-label='Name of the rule']")
    rule = root.rules.draft_of(root.rules.find!(id))
    root.rules.keep_draft(id, rule.with(name: "Theirs"), stamp: nil, cause: cause("tobias"))
    fill_in "Name of the rule", with: "Mine"
    expect(page).to have_css("[role=dialog]", text: "Tobias Kell changed this rule while you were writing")
    click_button "Save mine over theirs"
    wait_until("mine is saved") { root.rules.draft_of(root.rules.find!(id)).name == "Mine" }
  end

  it "name everything that is wrong beside the rule, and lead there" do
    sign_in("Maren Oduya", at: "/rules/new")
    click_button "Checks"
    expect(page).to have_css("#rule-side li", text: "Branch 1, action 1, title")
    within("#rule-side") { click_button "Branch 1, action 1, title" }
    expect(page).to have_field("Title")
    expect(page).to have_css(
      "#rule-side [role=alert]", text: "It must have words; a task without a title is never made."
    )
  end

  it "bring in a file, or say line by line what is wrong with it" do
    sign_in("Maren Oduya", at: "/rules")
    click_button "Bring in a file"
    fill_in "Or its text", with: "format: yenvo-rule/1\nname: x\nrecord: deal\ntrigger: {when: never}\nbranches: []\n"
    click_button "Make a draft of it"
    expect(page).to have_css("[role=alert]", text: /Line 4.*trigger.when must be one of record_made/)
    find_field("Or its text").set(
      Yenvo::Core::RuleFile.dump(
        Yenvo::Core::RuleReader.read!({"format" => "yenvo-rule/1", "record" => "deal"}.merge(survey_rule))
      ),
      rapid: false
    )
    click_button "Make a draft of it"
    expect(page).to have_field("Name of the rule", with: "Survey booked")
  end
end

RSpec.describe "Accessibility" do
  it "finds nothing wrong on the main pages (axe, WCAG 2.2 AA)" do
    rule = publish(survey_rule)[:id]
    deal = make("deal", "title" => "Quiet Hour", "stage" => "survey_booked", "value" => 5)["id"]
    wait_until("the task is made") { root.db[:tasks].any? }
    visit "/sign-in"
    expect(page).to have_button("Maren Oduya")
    expect(page).to be_axe_clean.according_to(:wcag2a, :wcag2aa, :wcag21aa, :wcag22aa)
    sign_in "Maren Oduya"
    root.notices.add(["maren"], "Something happened", at: Database::NOW)
    {
      "/setup/deal" => "td", "/setup/people" => "td", "/notices" => "main li", "/worklist?who=all" => "aside h2",
      "/records/deal" => "tbody tr", "/record/#{deal}" => "dl", "/rules" => "tbody tr",
      "/rules/#{rule}" => "[data-test=try-count]", "/trail" => "aside h2"
    }.each do |path, there|
      visit path
      expect(page).to have_css(there)
      expect(page).to be_axe_clean.according_to(:wcag2a, :wcag2aa, :wcag21aa, :wcag22aa)
    end
  end
end
