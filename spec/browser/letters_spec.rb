# frozen_string_literal: true

require_relative "browser_helper"

# Mail that comes in, by the processes that take it: the stand-in of the mail server hands each to bin/yenvo mail.
RSpec.describe "Mail that comes in" do
  include Processes
  include OutsideWorld

  let(:mail_port) { free_port }
  let(:url) { Database.make(Database.name("letters")) }
  let(:here) { Yenvo::Store::Root.open(url, connections: 1) }
  let(:handing) do
    command = [File.expand_path("../../bin/yenvo", __dir__), "mail", "--to"]
    Yenvo::Standins::Handing.new(
      %w[house@fennick.example snags@fennick.example], command, env: environment(url, YENVO_CLOCK: Browser::CLOCK)
    )
  end
  let(:street) do
    Yenvo::Standins::Street.new(clock: Database::FixedClock.new(Database::NOW), mail_port:, handing:)
  end

  before do
    street.start
    env = {SMTP_URL: "smtp://127.0.0.1:#{mail_port}", YENVO_STANDINS: serve(street), YENVO_CLOCK: Browser::CLOCK}
    start_worker(url, **env)
    Capybara.app_host = start_web(url, **env)
    here.setup_store.set("mail_from", "house@fennick.example")
  end

  after do
    stop_all
    street.stop
    close_all
    here.db.disconnect
  end

  def clean = expect(page).to be_axe_clean.according_to(:wcag2a, :wcag2aa, :wcag21aa, :wcag22aa)

  def made(kind, **values) = here.records.make(kind, values.transform_keys(&:to_s), cause: cause("hollie"))["id"]

  # @return [Integer] a deal about which a mail has gone to its owner, and whose task waits for the answer
  def a_deal_that_waits
    rule = Yenvo::Core::RuleReader.read!(
      "format" => "yenvo-rule/1", "name" => "Answered", "record" => "deal", "how_often" => "every_time",
      "trigger" => {"when" => "interaction_logged", "answered" => true},
      "branches" => [{
        "do" => [{
          "action" => "tasks", "state" => "started",
          "which" => {"all" => [{"field" => "stage", "test" => "is", "value" => "waiting"}]}
        }]
      }]
    )
    here.rules.publish(here.rules.make(rule, cause: cause("maren"))[:id], rule, cause: cause("maren"))
    deal = made("deal", title: "Quiet Hour", owner: "hollie")
    task = here.tasks.make({"title" => "Hear what Aldo says", "record_id" => deal, "assignee" => "hollie"},
      cause: cause)
    here.tasks.set_state(task[:id], "waiting", cause: cause)
    deal
  end

  def write_about(deal) =
    here.outbox.add("mail", "mail server", {"to" => "aldo@sea.example", "subject" => "A day", "text" => "Friday?"},
      cause: cause("maren"), record_id: deal, kind: "deal", words: "Mail to Aldo")

  it "lands on the record it answers and wakes the task that waited; another makes a ticket; one comes back" do
    deal = a_deal_that_waits
    sign_in("Maren Oduya", at: "/setup/mail")
    check "Mails about records ask for answers to Yenvo"
    expect(page).to have_text("From now on mails of the house are answered to Yenvo.")
    write_about(deal)
    visit "/stand-ins"
    expect(page).to have_text("A day", wait: 30)
    click_button "Answer it"
    fill_in "What aldo@sea.example answers", with: "Friday is good."
    click_button "Send the answer"
    expect(page).to have_text("The mail server says: 250", wait: 70)

    visit "/record/#{deal}"
    expect(page).to have_text("An answer by mail came from aldo@sea.example: Re: A day. Friday is good.")
    expect(wait_until("the task is awake", seconds: 20) { here.db[:tasks].where(state: "started").first }).to be
    click_button "Notes and calls" if page.has_button?("Notes and calls", wait: 0)

    visit "/stand-ins"
    click_button "Have no mailbox"
    expect(page).to have_text("The mail server says: 250", wait: 70)
    visit "/setup/outbox"
    expect(page).to have_css("tr", text: /A day.*came back/)
    click_button "A day"
    expect(page).to have_css("[role=dialog]", text: /Came back: aldo@sea.example: 5.1.1.*an answer, on its record/m)
    clean
    contact = made("contact", title: "Aldo", email: "Aldo@sea.example")
    visit "/record/#{contact}"
    expect(page).to have_text("Mail to this address came back on Tue 24 Nov 2026: 5.1.1 550")

    visit "/setup/mail"
    click_button "It works again"
    expect(page).to have_no_text("Addresses from which mail came back")
    click_button "New address"
    fill_in "Name", with: "Snags"
    fill_in "Address to which people write", with: "snags@fennick.example"
    find("[role=dialog] button", text: "Contacts").click
    find("[role=option]", text: "Tickets").click
    click_button "Go on"
    click_button "Save and open it"
    expect(page).to have_text("Snags is open.")
    clean

    visit "/stand-ins"
    click_button "Write to the house"
    fill_in "Subject", with: "The pump leaks"
    fill_in "Text", with: "Since Monday."
    click_button "Send the mail"
    expect(page).to have_text("The mail server says: 250", wait: 70)
    visit "/setup/mail"
    expect(page).to have_css("tr", text: /Juno Blythe.*The pump leaks.*made a record/m)
    clean
    click_link "The pump leaks"
    expect(page).to have_text("A mail came from Juno Blythe, juno.blythe@post.example: The pump leaks. Since Monday.")
  end

  it "is told to the sender that nobody takes it" do
    said = street.call(
      "PATH_INFO" => "/mail", "REQUEST_METHOD" => "POST", "rack.input" => StringIO.new(
        JSON.generate(from: "a@x.example", to: "snags@fennick.example", subject: "s", text: "t")
      )
    )[2].join
    expect(said).to match(/550|Requested action not taken/)
    expect(here.db[:letters].select_map(%i[state
      reason])).to eq([["unknown", "Nobody takes mail at snags@fennick.example."]])
  end
end
