# frozen_string_literal: true

require_relative "browser_helper"

RSpec.describe "Kits" do
  def kit_rule(kind, trigger, kit) =
    publish(
      {
        "record" => kind, "trigger" => trigger, "how_often" => "once_per_visit",
        "branches" => [{"do" => [{"action" => "kit", "kit" => kit}]}]
      }
    )

  def answer(title, words)
    visit "/worklist?who=all"
    find("tr", text: title).click
    expect(page).to have_css("aside h2", text: title)
    within("aside") { click_button words, match: :first }
    expect(page).to have_text("Done: #{title}")
  end

  # The kits of the record that is open.
  def steps
    toggle = find("section[aria-label='Kits in use'] button[data-copy]")
    toggle.click if toggle["aria-expanded"] != "true"
    expect(page).to have_css("section[aria-label='Kits in use'] ol li")
    all("section[aria-label='Kits in use'] ol li").map(&:text)
  end

  def open_titles = root.db[:tasks].where(open: true).order(:id).select_map(:title)
  def comes(title) = wait_until("#{title} comes") { root.db[:tasks].where(title:, open: true).any? }

  describe "Launch, begun by a stage change" do
    before do
      publish_demo_kit("11-rigging-job")
      publish_demo_kit("12-launch")
      kit_rule("deal", {"when" => "stage_entered", "stages" => ["in_the_yard"]}, "launch")
      @owner = make("contact", "title" => "Aldo Ferrant")["id"]
      @deal =
        make(
          "deal", "title" => "Quiet Hour", "stage" => "accepted", "launch_date" => "2027-01-18", "surveyor" => "ines",
          "boat_owner" => @owner
        )["id"]
      sign_in("Maren Oduya", at: "/record/#{@deal}")
      choose_from "Stage", "In the yard"
      expect(page).to have_css("section[aria-label='Kits in use']", text: /Launch\s+0 of 8 done/)
    end

    it "goes in by the ways Needs work and Yes, and is launched" do
      answer "Look over the hull", "Needs work"
      comes "Quote the extra work"
      answer "Quote the extra work", "Done"
      comes "Did Aldo Ferrant agree?"
      answer "Did Aldo Ferrant agree?", "Yes"
      comes "Antifoul"
      visit "/record/#{@deal}"
      expect(steps.join("|")).to match(/2 ✓.*Needs work.*\|5 –.*not needed.*\|6 ○.*Antifoul/m)
      answer "Antifoul", "Done"
      comes "Step the mast"
      comes "Unwrap the rig: Rig Quiet Hour"
      visit "/worklist?who=all"
      expect(page).to have_css("tr", text: /Step the mast.*0 of 2 done in Rig Quiet Hour/m)
      answer "Unwrap the rig: Rig Quiet Hour", "Done"
      comes "Fit and tension the stays"
      visit "/worklist?who=all"
      expect(page).to have_css("tr", text: /Step the mast.*1 of 2 done in Rig Quiet Hour/m)
      answer "Step the mast", "Done"
      answer "Book a hoist slot for Quiet Hour", "Done"
      comes "Launch Quiet Hour"
      expect(page).to have_css("tr", text: /Launch Quiet Hour.*Mon 18 Jan 2027 10:00/m)
      answer "Launch Quiet Hour", "Done"
      visit "/record/#{@deal}"
      expect(page).to have_css("section[aria-label='Kits in use']", text: /Launch\s+finished/)
    end

    it "is stopped by the way Unsafe, and by the way No" do
      answer "Look over the hull", "Unsafe"
      comes "Stop the launch, tell the owner"
      visit "/record/#{@deal}"
      expect(steps.grep(/not needed/).size).to eq(5)
      other =
        make(
          "deal", "title" => "Sallow", "stage" => "accepted", "launch_date" => "2027-02-15", "surveyor" => "ines",
          "boat_owner" => @owner
        )["id"]
      visit "/record/#{other}"
      choose_from "Stage", "In the yard"
      expect(page).to have_css("section[aria-label='Kits in use']", text: /Launch\s+0 of 8 done/)
      answer "Look over the hull", "Needs work"
      comes "Quote the extra work"
      answer "Quote the extra work", "Done"
      comes "Did Aldo Ferrant agree?"
      answer "Did Aldo Ferrant agree?", "No"
      wait_until("it is stopped") do
        root.db[:tasks].where(title: "Stop the launch, tell the owner", record_id: other).any?
      end
      visit "/record/#{other}"
      expect(steps.grep(/Antifoul|Step the mast|Launch/)).to all(include("not needed"))
    end

    it "is dated anew when the launch moves by two weeks; a task re-dated by hand stays, and the history says so" do
      visit "/worklist?who=all"
      find("tr", text: "Look over the hull").click
      expect(page).to have_css("aside h2", text: "Look over the hull")
      press "p"
      fill_in "When, in words", with: "in 2 working days"
      expect(page).to have_text("Thu 26 Nov")
      click_button "Put off to Thu 26 Nov"
      expect(page).to have_css("tr", text: /Look over the hull.*Thu 26 Nov/m)
      change(@deal, {"launch_date" => "2027-02-01"})
      visit "/record/#{@deal}"
      expect(page).to have_text("Launch date moved: 1 open task of Launch has another date")
      expect(page).to have_text("Book a hoist slot for Quiet Hour: Fri 18 Dec becomes Wed 23 Dec")
      expect(page).to have_text("Look over the hull: dated by hand, so it stays")
      expect(steps[1]).to include("Thu 26 Nov", "dated by hand")
    end

    it "lets a task be skipped and the kit be stopped" do
      visit "/record/#{@deal}"
      steps
      click_button "Skip Look over the hull"
      expect(page).to have_css("section[aria-label='Kits in use'] li", text: /Look over the hull\s*dropped/)
      click_button "Stop it here"
      click_button "Stop it"
      expect(page).to have_css("section[aria-label='Kits in use']", text: /Launch\s+stopped/)
      expect(open_titles).to eq([])
    end
  end

  it "welcomes a new berth holder with four sub-tickets, each with its kit, whose progress the parent shows" do
    a_paper(name: "Berth agreement", kind: "contact", text: "For {{ record.title }}")
    %w[01-berth-papers 02-power-and-water 03-mooring-lines 04-gate-and-keys 10-new-berth-holder].each do |name|
      publish_demo_kit(name)
    end
    kit_rule("contact", {"when" => "stage_entered", "stages" => ["berth_holder"]}, "new-berth-holder")
    ilse =
      make("contact", "title" => "Ilse Brandt", "stage" => "customer", "adviser" => "hollie", "berth" => "B12")["id"]
    sign_in("Hollie Banner", at: "/record/#{ilse}")
    choose_from "Standing", "Berth holder"
    expect(page).to have_css("section[aria-label='Kits in use']", text: /New berth holder\s+0 of 6 done/)
    expect(root.db[:records].where(kind: "ticket").select_order_map(:title)).to eq(
      [
        "Berth papers: Ilse Brandt, berth B12", "Gate and keys: Ilse Brandt, berth B12",
        "Mooring lines: Ilse Brandt, berth B12", "Power and water: Ilse Brandt, berth B12"
      ]
    )
    expect(root.db[:kit_copies].where(kind: "ticket").count).to eq(4)
    answer "Send the berth contract: Berth papers: Ilse Brandt, berth B12", "Done"
    comes "File the signed contract and the cover note"
    visit "/worklist"
    expect(page).to have_css(
      "tr", text: /See the berth papers through for Ilse Brandt.*1 of 2 done in Berth papers: Ilse Brandt, berth B12/m
    )
    %w[papers power lines gate].each do |key|
      root.tasks.finish(root.db[:tasks].where(kit_task: key, record_id: ilse).get(:id), cause:)
    end
    comes "Welcome Ilse Brandt on the pontoon"
    visit "/record/#{ilse}"
    expect(page).to have_css("section[aria-label='Kits in use']", text: /New berth holder\s+4 of 6 done/)
  end

  it "takes forty pasted lines, without blank ones, numbers and bullets, and is published and used on a record" do
    deal = make("deal", "title" => "Marigold Tern")["id"]
    sign_in("Maren Oduya", at: "/kits")
    click_link "New kit", match: :first
    fill_in "Name of the kit", with: "Winter jobs"
    click_button "Paste a list"
    lines =
      Array.new(40) do |i|
        "#{["#{i + 1}. ", "- ", "• ", "#{i + 1}) "][i % 4]}Job " \
        "#{i + 1}#{(i == 0) ? "\tYard work\t5 wd after" : "\tYard work"}"
      end
    # A clipboard has tabs in it, which typing would take for leaving the field.
    page.execute_script(
      "const box = document.getElementById('kit-lines'); box.value = arguments[0]; box.dispatchEvent(new " \
      "Event('input'))", lines.each_slice(10).map { |some| some.join("\n") }.join("\n\n \n")
    )
    click_button "Add 40 tasks"
    expect(page).to have_css("tbody tr[id^=kit-row-]", count: 40)
    expect(find("#kit-row-job-1").text).to match(/Job 1.*Yard work queue.*at the start.*5 wd after the start/m)
    expect(page).to have_text("Draft saved")
    click_button "Publish version 1"
    expect(page).to have_text("Version 1 is published")
    click_button "Use on a record"
    pick_field "Deal", "Marigold Tern", scope: find("[role=dialog]")
    click_button "Use it"
    expect(page).to have_css("section[aria-label='Kits in use']", text: /Winter jobs\s+0 of 40 done/)
    expect(root.db[:tasks].where(record_id: deal, open: true).count).to eq(40)
  end

  it "is written with the keys alone: tasks typed, moved, given answers, and drawn" do
    sign_in("Maren Oduya", at: "/kits/new")
    expect(page).to have_css("input[aria-label='A task for phase 1']")
    page.execute_script("document.activeElement.blur()")
    press "a"
    press "Look over the hull", :enter, "Quote it", :enter
    expect(page).to have_css("tr#kit-row-quote-it")
    hand = Hands::Keys.new(page)
    hand.send(:reach, "css", "#kit-row-look-over-the-hull")
    page.driver.browser.action.key_down(:alt).send_keys(:down).key_up(:alt).perform
    expect(page).to have_css("#kit-row-look-over-the-hull td", text: "2")
    page.driver.browser.action.key_down(:alt).send_keys(:up).key_up(:alt).perform
    expect(page).to have_css("#kit-row-look-over-the-hull td", text: "1")
    hand.fill "Answers it asks for, one a line", "Sound\nNeeds work"
    expect(page).to have_css("#kit-row-look-over-the-hull", text: "asks: Sound · Needs work")
    hand.send(:reach, "css", "#kit-row-look-over-the-hull")
    press :down, :enter
    expect(page).to have_css("#kit-side h3", text: "Task 2")
    hand.button "Let it come after another task"
    hand.choose "Way 1, answer 1", "if Needs work"
    expect(page).to have_css("#kit-row-quote-it", text: "after 1, if Needs work")
    page.execute_script("document.activeElement.blur()")
    press "r"
    expect(page).to have_css("svg[aria-label^='How the kit runs'] polygon", count: 1)
    expect(page).to have_css("svg text", text: "Needs work")
    expect(page).to have_text("Task 1, Sound: nothing comes after it.")
    expect(page).to be_axe_clean.according_to(:wcag2a, :wcag2aa, :wcag21aa, :wcag22aa)
  end

  it "brings a task with its parts, which are added beside it, and shows how many of them are done" do
    deal = make("deal", "title" => "Marigold Tern")["id"]
    sign_in("Maren Oduya", at: "/kits/new")
    hand = Hands::Mouse.new(page)
    fill_in "Name of the kit", with: "Hoist"
    find("input[aria-label='A task for phase 1']").send_keys("Book the hoist", :enter)
    find("#kit-row-book-the-hoist").click
    ["Ring the crane", "Check the slings"].each_with_index do |title, i|
      click_button "Add a part to it"
      expect(page).to have_css("#kit-side h3", text: "Task #{i + 2}")
      hand.fill "Title", title
      expect(page).to have_css("tr", text: /#{title}.*with 1/m)
      find("#kit-row-book-the-hoist").click
    end
    expect(page).to have_css("#kit-row-book-the-hoist", text: "2 parts")
    expect(page).to have_text("Draft saved")
    click_button "Publish version 1"
    expect(page).to have_text("Version 1 is published")
    click_button "Use on a record"
    pick_field "Deal", "Marigold Tern", scope: find("[role=dialog]")
    click_button "Use it"
    expect(page).to have_css("section[aria-label='Kits in use']", text: /Hoist\s+0 of 3 done/)
    answer "Ring the crane", "Done"
    expect(page).to have_css("tr", text: /Book the hoist.*1 of 2/m)
    visit "/record/#{deal}"
    expect(steps[0]).to match(/Book the hoist.*1 of 2 parts done/m)
  end

  it "makes a draft rule with the trigger still blank, which cannot be published before somebody has said when" do
    publish_demo_kit("16-lost-deal-tidy-up")
    sign_in("Maren Oduya", at: "/kits")
    click_link "Lost deal tidy-up"
    click_button "Make a rule"
    expect(page).to have_field("Name of the rule", with: "Use Lost deal tidy-up")
    expect(page).to have_css("td", text: "Lost deal tidy-up")
    click_button "Publish version 1"
    expect(page).to have_text("Not published: the checks found something.")
    choose_several "Stages", "Lost"
    expect(page).to have_text("Draft saved")
    click_button "Publish version 1"
    expect(page).to have_text("Version 1 is on.")
  end
end
