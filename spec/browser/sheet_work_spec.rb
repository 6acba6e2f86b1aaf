# frozen_string_literal: true

require_relative "browser_helper"

# Working on a rule sheet: moving, copying, undoing, comparing, running and taking back.
RSpec.describe "Work on the rule sheet" do
  def task(title) = {"action" => "task", "title" => title, "assign" => {"to" => "queue", "queue" => "callbacks"}}
  def condition(field, test, value) = {"field" => field, "test" => test, "value" => value}
  def actions(row) = all("tr[data-row='#{row}'] td:last-child button[draggable]").map { |one| one.text.split("\n")[1] }

  let(:row) do
    publish(
      "name" => "Three", "trigger" => {"when" => "record_changed", "field" => "value"},
      "branches" => [
        {
          "if" => {"all" => [condition("boat_length", "at_least", 12)]},
          "do" => [task("Wash"), task("Bail"), task("Caulk")]
        },
        {"if" => {"all" => [condition("boat_length", "less", 10)]}, "do" => [task("Dry")]}
      ]
    )
  end

  before { sign_in("Maren Oduya", at: nil) }

  it "moves by drag and by keys, copies between rules, and undoes and redoes" do
    other = publish("name" => "Other", "trigger" => {"when" => "record_made"}, "branches" => [{"do" => [task("Zinc")]}])
    visit "/rules/#{row[:id]}"
    expect(page).to have_css("tr[data-row='1']")
    first = find("tr[data-row='0'] td:last-child button[draggable]", text: "Wash")
    page.driver.browser.action
      .drag_and_drop(first.native, find("tr[data-row='0'] td:last-child button[draggable]", text: "Caulk").native)
      .perform
    expect(page).to have_css("tr[data-row='0'] td:last-child button:nth-of-type(2)", text: "Wash")
    expect(actions(0)).to eq(%w[Bail Wash Caulk])
    find("tr[data-row='0'] td:last-child button[draggable]", text: "Caulk").click
    page.driver.browser.action.key_down(:alt).send_keys(:arrow_up).send_keys(:arrow_up).key_up(:alt).perform
    expect(actions(0)).to eq(%w[Caulk Bail Wash])
    page.driver.browser.action
      .drag_and_drop(find("button[aria-label='Branch 2']").native, find("button[aria-label='Branch 1']").native).perform
    expect(page).to have_css("tr[data-row='0'] td:last-child", text: "Dry")
    3.times { click_button "Undo" }
    expect(actions(0)).to eq(%w[Bail Wash Caulk])
    click_button "Redo"
    find("tr[data-row='0'] td:last-child button[draggable]", text: "Bail").click
    page.driver.browser.action.key_down(:control).send_keys("c").key_up(:control).perform
    expect(page).to have_button("Paste the action")
    visit "/rules/#{other[:id]}"
    find("tr[data-row='0'] td:last-child button[draggable]", text: "Zinc").click
    page.driver.browser.action.key_down(:control).send_keys("v").key_up(:control).perform
    expect(page).to have_css("tr[data-row='0'] td:last-child button:nth-of-type(2)", text: "Bail")
    expect(actions(0)).to eq(%w[Zinc Bail])
    wait_until("the draft is kept") { root.rules.find!(other[:id])[:draft].to_s.include?('"title":"Bail"') }
  end

  it "shows gaps and overlaps with an example, and tries one record as if it had changed" do
    make("deal", "title" => "Quiet Hour", "boat_length" => 13, "value" => 4)
    visit "/rules/#{row[:id]}"
    click_button "Checks"
    expect(page).to have_css("#rule-side li", text: "Gap No branch takes Boat length 10 m")
    find("[data-cell='1 boat_length']").click
    find("[data-test=cell] input").send_keys([:control, "a"], "13")
    click_button "Done"
    expect(page).to have_css(
      "#rule-side li", text: "Overlap Branches 1 and 2 both take Boat length 12 m; branch 1 comes first"
    )
    click_button "Try"
    expect(page).to have_css("[data-test=verdict]", text: "Quiet Hour would get 3 tasks")
    # What is saved meanwhile makes the head wider, and all below it moves.
    expect(page).to have_text("Draft saved")
    click_button "What if Quiet Hour changed?"
    choose_from "Field that would change", "Boat length"
    find("#rule-side input[inputmode=decimal]").set("9")
    expect(page).to have_css("[data-test=verdict]", text: "Quiet Hour would get nothing")
    expect(page).to have_css("#rule-side", text: "Value did not change")
    fill_in "Only deals with these words", with: "sallow\t"
    expect(page).to have_css("#rule-side", text: "None of the deals stands where the trigger could meet it now.")
  end

  it "says in words what changed between versions, shows them side by side, and takes an old one again" do
    id = row[:id]
    changed = root.rules.version!(id, 1).with(how_often: "once_per_record")
    root.rules.publish(id, changed, cause: cause("maren"))
    visit "/rules/#{id}"
    click_button "History"
    expect(page).to have_css("[data-test=changes] li", text: "Rule how often was every time, is once per record")
    click_button "Show them side by side"
    expect(page).to have_css("[role=dialog] section", text: "Version 1", count: 1)
    expect(page).to have_css("[role=dialog] td", text: "Boat length is at least 12 m", count: 2)
    click_button "Close"
    click_button "Take as the draft"
    click_button "Publish version 3"
    expect(page).to have_text("Version 3 is on")
    expect(root.rules.version!(id, 3).how_often).to eq("every_time")
  end

  it "runs on the records that match now, with the count first, and takes the runs back" do
    deals = Array.new(3) { |i| make("deal", "title" => "Boat #{i}", "boat_length" => 13, "value" => i)["id"] }
    make("deal", "title" => "Between", "boat_length" => 11)
    visit "/rules/#{row[:id]}"
    click_button "Run on matches"
    expect(page).to have_css("[data-test=match-count]", text: "3")
    click_button "Run on 3 deals"
    expect(page).to have_css("[role=dialog] [role=status]", text: "Done: started on 3 of 3 deals.", wait: 12)
    wait_until("the tasks are made") { root.db[:tasks].count == 9 }
    within("[role=dialog]") { click_button "Close" }
    task = root.db[:tasks].where(record_id: deals[0]).get(:id)
    root.tasks.put_off(task, on: "2026-12-01", cause:)
    click_button "Take runs back"
    expect(page).to have_css("[data-test=back] li", count: 8)
    expect(page).to have_css("[data-test=stays] li", text: "somebody has changed it since", count: 1)
    click_button "Take back"
    expect(page).to have_css("[role=dialog] [role=status]", text: "Taken back 3 runs.")
    expect(root.db[:tasks].where(open: true).count).to eq(1)
  end

  it "finds a ready rule, makes a draft of it, and marks its blanks" do
    visit "/rules"
    click_button "Ready rules"
    fill_in "Search the ready rules", with: "large deal second"
    expect(page).to have_css("[role=dialog] h3", text: "Large deal: a second look")
    click_button "Make a draft of it"
    expect(page).to have_field("Name of the rule", with: "Large deal: a second look")
    click_button "Checks"
    expect(page).to have_css("#rule-side li", text: /Trigger\s+It must name at least one\./)
    expect(page).to have_css("#rule-side li", text: /Branch 1/)
  end

  it "tells the other of two who write at once, and overwrites nothing" do
    visit "/rules/#{row[:id]}"
    expect(page).to have_css("tr[data-row='1']")
    root.rules.keep_draft(
      row[:id], root.rules.version!(row[:id], 1).with(name: "By another"),
      stamp: root.rules.find!(row[:id])[:draft_stamp], cause: cause("tobias")
    )
    click_button "Add a branch"
    expect(page).to have_css("[role=dialog]", text: "Tobias Kell changed this rule while you were writing")
    click_button "Take theirs"
    expect(page).to have_field("Name of the rule", with: "By another")
  end

  it "refuses a save in a sentence where a rule before it fails, and keeps what was typed" do
    publish(
      "name" => "Type goes into the title", "run" => "before_save", "trigger" => {"when" => "record_made"},
      "branches" => [
        {"do" => [{"action" => "set", "values" => [{"field" => "title", "text" => "{{ record.survey_type }}"}]}]}
      ]
    )
    visit "/records/deal"
    click_button "New deal"
    fill_in "Title", with: "Sallow"
    click_button "Make the deal"
    expect(page).to have_css(
      "[role=alert]",
      text: "The rule “Type goes into the title” stopped this save: Title takes a few words; it cannot be empty."
    )
    expect(page).to have_field("Title", with: "Sallow")
    expect(root.db[:records].count).to eq(0)
  end

  it "says that an answer is slow or does not come, and loses nothing" do
    visit "/rules/#{row[:id]}"
    expect(page).to have_css("tr[data-row='1']")
    network(latency: 1_500)
    fill_in "Name of the rule", with: "Three and more"
    expect(page).to have_css("[role=status]", text: /Not saved yet|Saving/)
    wait_until("the draft is kept") { root.rules.find!(row[:id])[:draft].to_s.include?("Three and more") }
    network(offline: true)
    fill_in "Name of the rule", with: "Four"
    expect(page).to have_css("[role=alert]", text: "The draft is not saved")
    network
    click_button "Try again"
    wait_until("the draft is kept") { root.rules.find!(row[:id])[:draft].to_s.include?('"name":"Four"') }
  end

  it "has nothing that keeps anybody out, with a cell and with an action open (axe, WCAG 2.2 AA)" do
    accessible = -> { expect(page).to be_axe_clean.according_to(:wcag2a, :wcag2aa, :wcag21aa, :wcag22aa) }
    visit "/rules/#{row[:id]}"
    find("[data-cell='0 boat_length']").click
    expect(page).to have_css("[data-test=cell] input")
    accessible.call
    click_button "Done"
    find("tr[data-row='0'] td:last-child button[draggable]", text: "Wash").click
    choose_from "What it does", "Set fields"
    accessible.call
    click_button "History"
    expect(page).to have_css("#rule-side li", text: "Version 1")
    accessible.call
  end

  it "can be read and worked on a phone" do
    root.notices.add(["maren"], "Something happened", at: Database::NOW)
    page.driver.browser.execute_cdp(
      "Emulation.setDeviceMetricsOverride", width: 360, height: 740, deviceScaleFactor: 1, mobile: true
    )
    [
      "/rules/#{row[:id]}", "/rules", "/setup/deal", "/setup/people", "/notices", "/records/deal", "/trail"
    ].each do |path|
      visit path
      expect(page).to have_css("h1")
      expect(page.evaluate_script("document.documentElement.scrollWidth")).to be <= 360, path
    end
    visit "/rules/#{row[:id]}"
    find("[data-cell='0 boat_length']").click
    find("[data-test=cell] input").send_keys([:control, "a"], "14")
    click_button "Done"
    expect(page).to have_css("[data-cell='0 boat_length']", text: "at least 14 m")
  end

  it "stays quick with twenty branches of five actions" do
    big =
      publish(
        "name" => "Big", "trigger" => {"when" => "record_changed", "field" => "value"}, "branches" =>
          Array.new(20) do |i|
            {
              "if" => {"all" => [condition("boat_length", "is", i + 1), condition("survey_type", "is", "damage")]},
              "do" => Array.new(5) { |j| task("Task #{i} #{j}") }
            }
          end
      )
    visit "/rules/#{big[:id]}"
    expect(page).to have_css("tr[data-row='19']")
    find("tr[data-row='19'] td:last-child button[draggable]", text: "Task 19 4").click
    spent = page.evaluate_async_script(<<~JS)
      const done = arguments[0]
      const input = document.querySelector('#rule-side [aria-label="Title"]')
      const times = []
      let left = 12
      const step = () => {
        const began = performance.now()
        input.value += 'x'
        input.dispatchEvent(new Event('input', { bubbles: true }))
        requestAnimationFrame(() => requestAnimationFrame(() => {
          times.push(performance.now() - began)
          left -= 1
          if (left) step()
          else done(times.sort((a, b) => a - b)[6])
        }))
      }
      step()
    JS
    expect(page).to have_css("tr[data-row='19'] td:last-child", text: "Task 19 4xxxxxxxxxxxx")
    expect(spent).to be < 150
  end

  it "goes from tab to tab by the arrow keys, and keeps the focus there, also when the tab it came from goes" do
    row = publish(survey_rule)
    sign_in("Maren Oduya", at: "/rules/#{row[:id]}")
    find("tr[data-row='0'] td:last-child button", match: :first).click
    expect(page).to have_css("#rule-side [role=tab][aria-selected=true]", text: "Action")
    find("#rule-side [role=tab][aria-selected=true]").send_keys(:left)
    expect(page).to have_css("#rule-side [role=tab][aria-selected=true]", text: "History")
    expect(page).to have_no_css("#rule-side [role=tab]", text: "Action")
    expect(page.evaluate_script("document.activeElement.textContent")).to match(/History/)
    page.driver.browser.switch_to.active_element.send_keys(:left)
    expect(page).to have_css("#rule-side [role=tab][aria-selected=true]", text: "Checks")
    expect(page).to have_css("#rule-side [role=tabpanel]", text: /Nothing|checks/i)
  end
end
