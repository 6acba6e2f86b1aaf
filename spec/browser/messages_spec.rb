# frozen_string_literal: true

require_relative "browser_helper"
require_relative "../support/hands"

# What rules send, from the set-up to what arrives, by the processes that do it.
RSpec.describe "Messages of rules" do
  include Processes

  attr_reader :hand

  before do
    @url = Database.make(Database.name("messages"))
    web, street, mail = Array.new(3) { free_port }
    env = {
      SMTP_URL: "smtp://127.0.0.1:#{mail}", YENVO_ADDRESS: "http://127.0.0.1:#{web}", YENVO_CLOCK: Browser::CLOCK,
      YENVO_INSIDE: "127.0.0.1", YENVO_STANDINS: "http://127.0.0.1:#{street}"
    }
    @street = start_stand_ins(street, mail, YENVO_CLOCK: Browser::CLOCK)
    start_worker(@url, **env)
    Capybara.app_host = start_web(@url, port: web, **env)
    @root = Yenvo::Store::Root.open(@url, connections: 1)
  end

  after do
    stop_all
    @root.db.disconnect
  end

  def as(person) = Yenvo::Store::Journal::Cause.person(person, Database::NOW)

  # A house that knows where its messages go.
  def reach_outside
    @root.setup_store.set("mail_from", "house@fennick.example")
    [["Yard board", "board", "board/yard"], ["Office", "call", "office"]].each do |name, way, path|
      fields = (way == "call") ? {"deal" => %w[title value]} : {}
      given = {"name" => name, "way" => way, "url" => "#{@street}/#{path}", "fields" => fields}
      key, = @root.addresses.write(nil, given, cause: as("maren"))
      @root.db[:addresses].where(key:).update(secret: Yenvo::Standins::Street::SECRET) if way == "call"
    end
    @root.forget
  end

  def a_deal(title)
    owner = @root.records.make("contact", {"title" => "Aldo", "email" => "aldo@sea.example"}, cause: as("hollie"))["id"]
    @root.records.make("deal", {"title" => title, "value" => 90, "boat_owner" => owner}, cause: as("hollie"))["id"]
  end

  def quote(id) = @root.records.change(id, {"stage" => "quoted"}, cause: as("hollie"))
  def came(of) = JSON.parse(Net::HTTP.get(URI("#{@street}/")))[of]

  def write_the_rule
    visit "/rules/new"
    expect(page).to have_field("Name of the rule")
    hand.fill "Name of the rule", "Tell all"
    hand.choose "Trigger", "Stage becomes"
    hand.several "Stages", "Quoted"
    hand.open("tr[data-row='0'] td:last-child button:nth-of-type(1)")
    hand.choose "What it does", "Write a mail"
    hand.choose "To 1", "an e-mail field"
    hand.pick "To 1: field", "Owner of the boat · E-mail"
    hand.button "Somebody else too"
    hand.choose "To 2", "this address"
    hand.fill "To 2: address", "office@fennick.example"
    hand.fill "Subject", "Your boat {{ record.title }}"
    hand.fill "What it says", "Dear {{ record.boat_owner }}, she is quoted."
    hand.button "Add an action"
    hand.choose "What it does", "Write on a board"
    hand.choose "Which board", "Yard board"
    hand.fill "What it says", "{{ record.title }} is quoted"
    hand.button "Add an action"
    hand.choose "What it does", "Call a program"
    hand.choose "Which program", "Office"
    hand.button "Read something into a field"
    hand.fill "Answer 1: where it stands", "order.number"
    hand.choose "Answer 1: field", "Order number"
  end

  def publish_it
    expect(page).to have_css("[role=tab]", text: /\AChecks( ◇)?\z/, wait: 12)
    hand.button "Publish version 1"
    expect(page).to have_text("Version 1 is on")
  end

  {"the mouse" => Hands::Mouse, "the keys alone" => Hands::Keys}.each do |name, type|
    it "are written with #{name}, tried, sent, seen in the outbox, and reach mailbox, board and program" do
      @hand = type.new(page)
      reach_outside
      sign_in("Maren Oduya")
      deal = a_deal("Quiet Hour")
      write_the_rule
      publish_it
      quote(deal)
      wait_until("the rule has run") { @root.db[:deliveries].count == 3 }

      visit "/setup/outbox"
      expect(page).to have_css("tbody tr", count: 3)
      expect(page).to be_axe_clean.according_to(:wcag2a, :wcag2aa, :wcag21aa, :wcag22aa)
      ["Your boat Quiet Hour", "Quiet Hour is quoted", "About Quiet Hour"].each do |subject|
        hand.button subject
        expect(page).to have_css("[role=dialog]", text: /Tell all/)
        hand.button "Send it now"
        expect(page).to have_css("[role=dialog]", text: /taken: /, wait: 12)
        hand.button "Close"
      end
      expect(page).to have_css("tbody tr", text: "sent", count: 3)
      expect(came("mailbox")[0]).to include(
        "to" => "aldo@sea.example, office@fennick.example", "subject" => "Your boat Quiet Hour",
        "text" => "Dear Aldo, she is quoted."
      )
      expect([came("board")[0]["text"], came("office")[0]["signed"]]).to eq(["Quiet Hour is quoted", "rightly"])
      expect(@root.records.find!(deal)["order_number"]).to eq("OF-0001")
      visit "/record/#{deal}"
      expect(page).to have_text("Mail to aldo@sea.example, office@fennick.example: Your boat Quiet Hour · sent")
      visit "/stand-ins"
      expect(page).to have_css("section", text: /Mailbox.*Your boat Quiet Hour/m)
      expect(page).to be_axe_clean.according_to(:wcag2a, :wcag2aa, :wcag21aa, :wcag22aa)
    end
  end

  it "go to addresses that are added, tried and given another secret in the set-up" do
    @hand = Hands::Mouse.new(page)
    sign_in("Maren Oduya", at: "/setup/addresses")
    click_button "New address"
    fill_in "Name", with: "Office"
    hand.choose "What it is", "a program, by web calls"
    fill_in "Web address", with: "office"
    click_button "Add it"
    expect(page).to have_css("[role=alert]", text: "It takes a web address such as")
    fill_in "Web address", with: "#{@street}/office"
    hand.several "What a call about deals carries", "Title", "Value"
    click_button "Add it"
    secret = find("[data-test=secret]").text
    expect(secret).to start_with("whsec_")
    expect(page).to be_axe_clean.according_to(:wcag2a, :wcag2aa, :wcag21aa, :wcag22aa)
    click_button "Another secret"
    expect(page).to have_text("and with the one before")
    expect(find("[data-test=secret]").text).not_to eq(secret)
    click_button "Drop the one before"
    expect(page).to have_no_text("and with the one before")
    within("[role=dialog]") { click_button "Not now" }
    click_button "Send a sample to Office"
    expect(page).to have_css("[role=dialog]", text: /not taken: 127.0.0.1: 401/, wait: 12)
    click_button "Close"
    click_button "Office"
    click_button "Take it away"
    expect(page).to have_css("section", text: /Taken away.*Office/m)
    click_button "Bring back Office"
    expect(page).to have_css("tbody tr", text: "Office")
  end

  it "wait for whoever caused them, who changes them first; and one that is stopped stays" do
    @hand = Hands::Mouse.new(page)
    reach_outside
    rule = Yenvo::Core::RuleReader.read!(
      "format" => "yenvo-rule/1", "name" => "Ask first", "record" => "deal", "how_often" => "every_time",
      "trigger" => {"when" => "stage_entered", "stages" => ["quoted"]}, "branching" => "first",
      "branches" => [{
        "do" => [{
          "action" => "mail", "receivers" => [{"to" => "email", "field" => "boat_owner.email"}], "ask" => true,
          "subject" => "Your boat", "text" => "It costs ___."
        }]
      }]
    )
    row = @root.rules.make(rule, cause: as("maren"))
    @root.rules.publish(row[:id], rule, cause: as("maren"))
    quote(a_deal("Quiet Hour"))
    sign_in("Hollie Banner")
    click_button "Mail to aldo@sea.example: Your boat"
    click_button "Send it"
    expect(page).to have_css("[role=alert]", text: "The text has a blank still.")
    fill_in "What it says", with: "It costs 90."
    click_button "Send it"
    expect(page).to have_text("It is on its way.")
    sign_in("Maren Oduya", at: "/setup/outbox")
    click_button "Your boat"
    expect(page).to have_css("[role=dialog]", text: "It costs 90.")
    click_button "Stop it"
    expect(page).to have_css("[role=dialog]", text: "stopped")
    expect(came("mailbox")).to eq([])
  end
end
