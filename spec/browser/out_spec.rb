# frozen_string_literal: true

require_relative "browser_helper"
require "csv"

RSpec.describe "What is taken out" do
  def cause = Yenvo::Store::Journal::Cause.person("hollie", Database::NOW)
  def clean = expect(page).to be_axe_clean.according_to(:wcag2a, :wcag2aa, :wcag21aa, :wcag22aa)

  # What the press would download, by the same address and session.
  def content_of(link)
    page.evaluate_async_script(<<~JS, find(:link, link)[:href])
      const done = arguments[1]; fetch(arguments[0]).then((answer) => answer.text()).then(done)
    JS
  end

  it "is a list as CSV, narrowed as it is, and contacts as cards" do
    %w[Petrel Tern].each do |title|
      root.records.make("deal", {"title" => title, "stage" => (title == "Tern") ? "quoted" : "enquiry"}, cause:)
    end
    root.records.make("contact", {"title" => "Aldo", "email" => "aldo@sea.example"}, cause:)
    sign_in("Hollie Banner", at: "/records/deal?where.stage=quoted")
    expect(page).to have_text("Tern")
    expect(find(:link, "As CSV")[:download]).not_to be_nil
    expect(CSV.parse(content_of("As CSV"), headers: true)["Title"]).to eq(["Tern"])
    clean
    visit "/records/contact"
    expect(content_of("As vCard")).to include("FN:Aldo\n").or(include("FN:Aldo\r\n"))
    visit "/trail"
    expect(content_of("As CSV").lines.first).to include("Rule")
    visit "/worklist"
    find("body").send_keys("f")
    expect(content_of("As CSV").lines.first).to include("Assigned to")
    sign_in("Maren Oduya", at: "/team")
    expect(content_of("As CSV").lines.first).to include("Answered in")
    visit "/setup/audit"
    expect(content_of("As CSV")).to include("took out the table “Deals”")
  end

  it "is one's tasks, under an address that is made and ended by a press" do
    task = {"title" => "Rig the mast", "assignee" => "hollie"}
    root.tasks.make_each(task, [], cause:)
    sign_in("Hollie Banner", at: "/me")
    check "tasks with a date stand in the calendar as events, too"
    click_button "Make an address"
    address = find("section[aria-labelledby=own-calendar] code").text
    read = -> { Net::HTTP.get_response(URI(address)) }
    expect(read.call.body).to include("BEGIN:VTODO", "SUMMARY:Rig the mast")
    clean
    click_button "End it"
    expect(page).to have_button("Make an address")
    expect(read.call.code).to eq("404")
  end
end
