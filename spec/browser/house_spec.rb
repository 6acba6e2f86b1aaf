# frozen_string_literal: true

require "rotp"
require_relative "browser_helper"

RSpec.describe "The house in the browser" do
  def clean? = expect(page).to be_axe_clean.according_to(:wcag2a, :wcag2aa, :wcag21aa, :wcag22aa)

  around { |example| keeping_setup { example.run } }

  describe "its set-up" do
    before { sign_in("Maren Oduya", at: nil) }

    it "has teams and queues that are made, changed, retired and brought back" do
      root.tasks.make({"title" => "Ring back", "queue" => "callbacks"}, cause:)
      visit "/setup/desks"
      clean?
      click_button "New team"
      fill_in "Name", with: "Sail loft"
      click_button "Add the team"
      expect(page).to have_css("tr", text: "Sail loft nobody; put people in it under People", normalize_ws: true)
      click_button "New queue"
      fill_in "Name", with: "Sails"
      choose_from("Who takes from it", "Sail loft")
      choose_several("Tasks about", "Tickets")
      choose_from("Which is next", "the longest waiting first")
      clean?
      click_button "Add the queue"
      expect(page).to have_css("tr", text: /Sails.*nobody is in it.*Tickets.*the longest waiting first/m)
      click_button "Callbacks"
      within("[role=dialog]") { click_button "Retire" }
      expect(page).to have_css("[role=dialog] [role=alert]", text: "1 task waits in Callbacks.")
      within("[role=dialog]") { click_button "Not now" }
      click_button "Sails"
      within("[role=dialog]") { click_button "Retire" }
      expect(page).to have_css("section", text: /Retired.*Sails/m)
      click_button "Bring back Sails"
      expect(page).to have_text("Sails is back.")
      expect(page).to have_no_css("h2", text: "Retired")
    end

    it "has an audit that tells who changed what, and can be narrowed" do
      Yenvo::Store::DeskChanges.new(root).team("accounts", {"name" => "Books"}, cause: cause("tobias"))
      visit "/setup/audit"
      expect(page).to have_css("tr", text: /Tobias Kell changed the team Books.*name: Accounts Books/m,
        normalize_ws: true)
      expect(page).to have_css("tr", text: "Maren Oduya signed in")
      clean?
      choose_from("What", "Sign-in")
      expect(page).to have_no_css("tr", text: "the team Books")
      choose_from("Who", "Priya Nand")
      expect(page).to have_text("Nothing of the kind stands here.")
    end

    it "has fields that are needed, stand once, begin with a value, are explained and stand in groups" do
      visit "/setup/contact"
      click_button "Club"
      check "has to be filled in"
      check "each value stands once"
      fill_in "A new record begins with", with: "Fennick SC"
      fill_in "Help, shown where it is filled in", with: "Where they race"
      fill_in "Stands under", with: "Sailing"
      clean?
      click_button "Save the field"
      expect(page).to have_css("tr", text: /Club.*required.*once.*under Sailing/m)
      click_button "Move Club up"
      expect(page).to have_button("Move Adviser down", disabled: true)
      visit "/records/contact"
      click_button "New contact"
      expect(page).to have_field("Club (needed)", with: "Fennick SC")
      expect(page).to have_text("Where they race")
      fill_in "Title", with: "Nia Brook"
      fill_in "Club (needed)", with: ""
      click_button "Make the contact"
      expect(page).to have_css("[role=dialog] [role=alert]", text: "Club has to be filled in.")
      fill_in "Club (needed)", with: "Heron SC"
      click_button "Make the contact"
      expect(page).to have_css("h1", text: "Nia Brook")
      expect(page).to have_css("dt", text: "Sailing")
      clean?
      expect(root.db[:unique_values].select_map(:word)).to eq(["heron sc"])
    end

    it "has tokens: of a program, made by an administrator, and one's own, shown once and ended" do
      visit "/setup/tokens"
      click_button "New token for a program"
      fill_in "Name of the program", with: "Website"
      fill_in "What it is for", with: "Enquiries"
      check "make and change records"
      clean?
      click_button "Make the token"
      token = find("[data-test=token]").text
      clean?
      click_button "I have it"
      expect(page).to have_css("tr", text: /Enquiries.*Website.*read, records.*never/m)
      expect(program(token, "/api/records?kind=deal")).to eq("200")
      click_button "End the token Enquiries"
      expect(page).to have_css("tr", text: /Enquiries.*ended/m)
      expect(program(token, "/api/records?kind=deal")).to eq("401")
      visit "/me"
      click_button "New token"
      fill_in "What it is for", with: "My script"
      click_button "Make the token"
      click_button "I have it"
      expect(page).to have_css("tr", text: /My script.*read/m)
      expect(page).to have_no_css("tr", text: "Enquiries")
    end

    def program(token, path) =
      Net::HTTP.get_response(URI("#{Capybara.app_host}#{path}"), "authorization" => "Bearer #{token}").code

    it "lets somebody leave, hand over and come back" do
      deal = make("deal", "title" => "Grey Heron", "owner" => "wen")["id"]
      root.tasks.make({"title" => "Sand the hull", "assignee" => "wen"}, cause:)
      visit "/setup/people"
      click_button "Wen Zhao"
      click_button "They leave"
      expect(page).to have_css("[role=dialog] tr", text: "Records that they own 1", normalize_ws: true)
      choose_from("Records that they own", "Osk Lindahl")
      choose_from("Open tasks", "Queue Callbacks")
      clean?
      click_button "End the account and hand over"
      expect(page).to have_css("[role=dialog]", text: /Hand-over of Wen Zhao.*2 things moved/m)
      expect(root.records.images([deal])[deal]["owner"]).to eq("osk")
      clean?
      click_button "Close"
      expect(page).to have_css("tr", text: /Wen Zhao.*has left/m)
      click_button "Wen Zhao"
      click_button "Their hand-over"
      click_button "Take it back, and let them in again"
      expect(page).to have_css("[role=dialog]", text: /taken back.*2 things moved/m)
      expect(root.records.images([deal])[deal]["owner"]).to eq("wen")
    end

    it "puts somebody in several teams, with hours of their own" do
      visit "/setup/people"
      click_button "Wen Zhao"
      choose_several("Teams", "Accounts")
      choose_from("Their work counts for", "Accounts")
      check "works hours of their own"
      uncheck "Thursday"
      clean?
      click_button "Save"
      expect(page).to have_css("tr", text: /Wen Zhao.*Accounts, Yard crew/m)
      expect(root.calendar.away_until("wen", Date.new(2026, 11, 26))).to eq(Date.new(2026, 11, 27))
    end

    it "has a calendar: days off are typed in or read from a file, seen in the year, counted before and saved" do
      id = root.tasks.make({"title" => "Oil", "due_on" => "2026-12-03", "assignee" => "wen"}, cause:)[:id]
      visit "/setup/house"
      expect(page).to have_css("section[aria-label='December 2026']", text: /Yard shut|Christmas/)
      clean?
      click_button "Add days off"
      all("input[aria-label^='What day off']").last.set("Regatta")
      all("input[aria-label='First day of Regatta']").last.send_keys("07022026")
      all("input[aria-label='Last day of Regatta']").last.send_keys("07032026")
      expect(page).to have_css("section[aria-label='July 2026']", text: "2–3 Regatta")
      attach_file "Read a calendar file (.ics)", calendar_file("DTSTART;VALUE=DATE:20260815", "RRULE:FREQ=YEARLY"),
        make_visible: true
      expect(page).to have_text("1 entry from days.ics stand in the list now; look, then save.")
      expect(page).to have_css("section[aria-label='August 2026']", text: "15 Feast")
      attach_file "Read a calendar file (.ics)", calendar_file("DTSTART;VALUE=DATE:20261345"), make_visible: true
      expect(page).to have_css("[role=alert]", text: "The event that begins on line 2 cannot be read")
      uncheck "Thursday"
      click_button "Save the house"
      expect(page).to have_css("[role=dialog]", text: "1 open task is due on a day that will be off.")
      check "move these tasks to the next working day"
      clean?
      within("[role=dialog]") { click_button "Save the house" }
      expect(page).to have_text("The house is saved.")
      expect(root.calendar.off_because(Date.new(2029, 8, 15))).to eq("Feast")
      expect(page).to have_text("1 open task moved to a working day.")
      expect(root.db[:tasks].where(id:).get(:due_on)).to eq(Date.new(2026, 12, 4))
      uncheck "Friday"
      network(offline: true)
      click_button "Save the house"
      expect(page).to have_css("[role=alert]", text: "cannot be reached just now")
      network
      expect(page).to have_unchecked_field("Friday")
    end

    it "tells the second of two administrators, who loses nothing of what they typed" do
      visit "/setup/desks"
      click_button "Accounts"
      expect(page).to have_css("[role=dialog]")
      Yenvo::Store::DeskChanges.new(root).team("accounts", {"name" => "Books"}, cause: cause("tobias"))
      fill_in "Name", with: "Ledgers"
      click_button "Save"
      expect(page).to have_css("[role=alert]", text: "Tobias Kell has changed the same in the meantime")
      expect(page).to have_field("Name", with: "Ledgers")
      click_button "Save"
      expect(page).to have_css("tr", text: "Ledgers", wait: 20)
    end

    def calendar_file(*lines)
      path = File.join(Dir.mktmpdir, "days.ics")
      File.write(path,
        ["BEGIN:VCALENDAR", "BEGIN:VEVENT", *lines, "SUMMARY:Feast", "END:VEVENT", "END:VCALENDAR"].join("\r\n"))
      path
    end
  end

  describe "one's own page" do
    it "changes name, zone, days away and what one is told; a wrong password does not sign one out" do
      sign_in("Hollie Banner", at: "/me")
      clean?
      fill_in "Your name", with: "Hollie B"
      click_button "Add days away"
      click_button "Save"
      expect(page).to have_css("button[aria-label='Hollie B, member']")
      Hands::Mouse.new(page).choose "When the moment of a reminder comes", "in the daily mail"
      page.document.synchronize(5) do
        root.schema.person("hollie").told_by("reminder") == "daily" || raise(Capybara::ElementNotFound,
          "It was not saved.")
      end
      fill_in "The one you have now", with: "guess"
      fill_in "The new one", with: "felt hammer oak"
      click_button "Change the password"
      expect(page).to have_css("[role=alert]", text: "The password that you have now is not right.")
      expect(page).to have_css("h1", text: "Your page")
    end

    it "shows what happened by one's own zone" do
      sign_in("Hollie Banner", at: "/me")
      begun = find("tr", text: "this one").text[/\d\d:\d\d/]
      find(:field, "Your time zone").send_keys([:control, "a"], "Asia/Tokyo")
      find("[role=option]", text: "Asia/Tokyo").click
      within("section", text: "Your time zone") { click_button "Save" }
      expect(page).to have_no_css("tr", text: begun)
      hours = find("tr", text: "this one").text[/\d\d(?=:\d\d)/].to_i - begun.to_i
      expect(hours % 24).to eq(9)
    end

    it "is where a lead enters days away for their team" do
      sign_in("Tobias Kell", at: "/team")
      within("tr", text: "Wen Zhao") { click_button "Days away" }
      within("[role=dialog]") do
        click_button "Add days away"
        click_button "Save"
      end
      expect(page).to have_css("tr", text: /Wen Zhao.*away until/m)
      expect(page).to have_no_css("tr", text: /Hollie Banner.*Days away/m)
      expect(root.calendar.away_until("wen", Date.new(2026, 11, 24))).to eq(Date.new(2026, 11, 24))
    end

    it "sets a second step up, which is asked for at the next sign-in; a recovery code does, too" do
      sign_in("Hollie Banner", at: "/me")
      click_button "Set up a second step"
      secret = find("[data-test=secret]").text.delete(" ").downcase
      expect(page).to have_css("svg[role=img]")
      fill_in "2. The code it shows now", with: ROTP::TOTP.new(secret).now
      fill_in "3. Your password", with: "harbour lights"
      clean?
      click_button "Set it up"
      codes = find("[data-test=codes]").all("li").map(&:text)
      clean?
      click_button "I have kept them"
      expect(page).to have_button("Recovery codes")
      find("button[aria-label='Hollie Banner, member']").click
      click_button "Sign out"
      fill_in "E-mail address", with: "hollie@fennick.example"
      fill_in "Password", with: "harbour lights"
      click_button "Sign in"
      expect(page).to have_css("h1", text: "The second step")
      clean?
      fill_in "Code", with: "000000"
      press(:enter)
      expect(page).to have_css("[role=alert]", text: "The code is not right")
      visit "/worklist"
      expect(page).to have_css("h1", text: "The second step")
      click_button "Use a recovery code"
      fill_in "Recovery code", with: codes[0].upcase
      press(:enter)
      expect(page).to have_css("h1", text: "Worklist", visible: :all)
    end

    it "leads through setting one up where the role needs it" do
      root.setup_store.set("second_step", ["member"])
      root.transaction { root.setup_store.changed(who: "maren", now: Time.now) }
      visit "/sign-in"
      fill_in "E-mail address", with: "hollie@fennick.example"
      fill_in "Password", with: "harbour lights"
      click_button "Sign in"
      expect(page).to have_css("h1", text: "Set up a second step")
      secret = find("[data-test=secret]").text.delete(" ").downcase
      fill_in "2. The code it shows now", with: ROTP::TOTP.new(secret).now
      click_button "Set it up"
      click_button "I have kept them"
      expect(page).to have_css("h1", text: "Worklist", visible: :all)
    end
  end
end
