# frozen_string_literal: true

require_relative "browser_helper"

RSpec.describe "The set-up" do
  include FormWords

  # What an example adds to the set-up goes again, since the other specs share it.
  after do
    root.db[:fields].where(key: %w[mast_height with_tax]).delete
    root.db[:kinds].where(key: "entry/winter_lay_up").delete
    root.db[:accounts].where(person: "nia_brook").delete
    root.db[:people].where(key: "nia_brook").delete
    root.setup_store.changed(who: nil, now: Database::NOW)
  end

  before { sign_in("Maren Oduya", at: nil) }

  it "adds fields and worked-out ones, and warns which rules lean on what is about to change" do
    publish(
      "name" => "Long boats", "trigger" => {"when" => "record_made"},
      "only_if" => {"all" => [{"field" => "boat_length", "test" => "more", "value" => 12}]},
      "branches" => [
        {
          "do" => [
            {
              "action" => "notice",
              "assign" => {"to" => "person", "person" => "maren"}, "text" => "Long: {{ record.title }}"
            }
          ]
        }
      ]
    )
    visit "/setup/deal"
    click_button "New field"
    fill_in "Name", with: "Mast height"
    choose_from "What it holds", "Number"
    fill_in "Unit", with: "m"
    click_button "Add the field"
    expect(page).to have_css("td", text: "mast_height")
    click_button "New field"
    fill_in "Name", with: "With tax"
    check "worked out by a formula, not typed"
    fill_in "Formula", with: "valu * 1.2\t"
    expect(page).to have_text('there is no "valu", the nearest is "value"')
    fill_in "Formula", with: "value * 1.2\t"
    expect(page).to have_text("It holds, and comes to a number.")
    click_button "Add the field"
    expect(page).to have_css("tr", text: "= value * 1.2")
    click_button "Boat length"
    expect(page).to have_css("[data-test=uses]", text: /1 rule leans on it.*Long boats/m)
  end

  it "adds a list on which deals are put, and a person with days away" do
    visit "/setup/people"
    click_button "New list"
    fill_in "Name of the list", with: "Winter lay-up"
    fill_in "What one entry is called", with: "Lay-up"
    choose_from "What is put on it", "deals"
    click_button "Add the list"
    expect(page).to have_css("h1 + span", text: "Winter lay-up")
    deal = make("deal")["id"]
    visit "/record/#{deal}"
    choose_from "Put on a list", "Winter lay-up"
    expect(page).to have_css("li", text: "Maren Oduya put it on Winter lay-up")
    visit "/setup/people"
    click_button "New person"
    fill_in "Name", with: "Nia Brook"
    fill_in "E-mail, to sign in with", with: "nia@fennick.example"
    click_button "Add days away"
    click_button "Invite them"
    expect(page).to have_css("[data-test=link]", text: %r{/welcome#\d+_\S{40,}\z})
    click_button "I have it"
    expect(page).to have_css("tr", text: /Nia Brook.*nia@fennick.example.*Tue 24 Nov/m)
    root.db[:records].where(kind: "entry/winter_lay_up").delete
  end

  it "takes a list away when nothing stands on it, asks again when rules lean on it, and brings it back" do
    key =
      Yenvo::Store::SetupChanges.new(root).list(
        {"label" => "Boat", "plural" => "Winter lay-up", "sections" => [{"label" => "Ashore"}], "about" => nil},
        cause: cause("maren")
      )
    root.forget
    publish(
      "name" => "Lay up", "record" => key, "trigger" => {"when" => "record_made"},
      "branches" => [
        {"do" => [{"action" => "notice", "assign" => {"to" => "person", "person" => "maren"}, "text" => "New"}]}
      ]
    )
    boat = make(key, "title" => "Gannet")["id"]
    visit "/setup/#{key}"
    click_button "Take the list away"
    expect(page).to have_css("[role=alert]", text: "1 boat stands on Winter lay-up. Take it off first")
    root.list_entries.take_off(boat, cause: cause("maren"))
    click_button "Take the list away"
    expect(page).to have_css("[role=alert]", text: "“Lay up” leans on the list Winter lay-up.")
    click_button "Take the list away all the same"
    expect(page).to have_text("The list Winter lay-up is taken away.")
    expect(page).to have_no_link("Winter lay-up")
    click_button "Bring back the list Winter lay-up"
    expect(page).to have_link("Winter lay-up")
    expect(page).to have_no_text("LISTS TAKEN AWAY")
  end

  it "shows on a list which rules watch its sections, and tells people by the bell" do
    row =
      publish(
        "name" => "Told", "trigger" => {"when" => "stage_entered", "stages" => ["accepted"]},
        "branches" => [
          {
            "do" => [
              {
                "action" => "notice",
                "assign" => {"to" => "person", "person" => "maren"}, "text" => "{{ record.title }} is accepted"
              }
            ]
          }
        ]
      )
    deal = make("deal", "stage" => "quoted")["id"]
    visit "/records/deal"
    click_button "1 rule"
    expect(page).to have_link("Told", href: "/rules/#{row[:id]}")
    change(deal, {"stage" => "accepted"})
    expect(page).to have_css("[data-test=bell]", text: /Notices\s*1/, wait: 12)
    find("[data-test=bell]").click
    click_link "Quiet Hour is accepted"
    expect(page).to have_css("h1", text: "Quiet Hour")
    wait_until("it is read") { root.notices.unread("maren").zero? }
    expect(page).to have_css("li", text: "Yenvo told: Maren Oduya: Quiet Hour is accepted")
  end

  it "takes a form from a visitor, and a rule meets it" do
    publish(
      "name" => "Answer", "record" => "entry/survey_requests", "trigger" => {"when" => "form_sent"},
      "branches" => [
        {
          "do" => [
            {
              "action" => "task", "title" => "Answer {{ record.title }}",
              "assign" => {"to" => "queue", "queue" => "survey_desk"}
            }
          ]
        }
      ]
    )
    Capybara.reset_sessions!
    items = [{"ask" => "title", "label" => "What it is about"}, {"ask" => "survey_type", "label" => "Survey type"}]
    visit "/f/#{a_form(items:, contact: nil, consent: nil)[:address]}"
    fill_in "What it is about", with: "Survey of Sallow"
    select "Damage", from: "Survey type"
    send_form { click_button "Send" }
    expect(page).to have_text("Thank you. What you wrote has arrived")
    wait_until("the task is made") { root.db[:tasks].get(:title) == "Answer Survey of Sallow" }
  end

  it "starts a rule by hand on chosen records" do
    publish(
      "name" => "Call again", "trigger" => {"when" => "by_hand"},
      "branches" => [
        {
          "do" => [
            {
              "action" => "task", "title" => "Call {{ record.title }}",
              "assign" => {"to" => "queue", "queue" => "callbacks"}
            }
          ]
        }
      ]
    )
    %w[Sallow Merrow Tern].each { |title| make("deal", "title" => title) }
    visit "/records/deal"
    check "Choose Sallow"
    check "Choose Tern"
    click_button "Start a rule ▾"
    click_button "Call again"
    expect(page).to have_text("“Call again” is started on 2 deals.")
    wait_until("the tasks are made") { root.db[:tasks].select_order_map(:title) == ["Call Sallow", "Call Tern"] }
  end
end
