# frozen_string_literal: true

require_relative "browser_helper"
require_relative "../support/hands"

# From a paper and a text that are written in the set-up to what arrives outside, by the processes that do it.
RSpec.describe "A quote that a rule writes and sends" do
  include Processes

  let(:mail_port) { free_port }
  let(:mailbox) { Yenvo::Standins::Mailbox.new(port: mail_port) }
  let(:hand) { Hands::Mouse.new(page) }

  before do
    mailbox.start
    @url = Database.make(Database.name("papers"))
    web, street = free_port, free_port
    @env = {
      SMTP_URL: "smtp://127.0.0.1:#{mail_port}", YENVO_ADDRESS: "http://127.0.0.1:#{web}", YENVO_CLOCK: Browser::CLOCK,
      YENVO_INSIDE: "127.0.0.1", YENVO_FILES: Dir.mktmpdir
    }
    @street = start_stand_ins(street, free_port, YENVO_CLOCK: Browser::CLOCK)
    @worker = start_worker(@url, **@env)
    Capybara.app_host = start_web(@url, port: web, **@env)
    @root = Yenvo::Store::Root.open(@url, connections: 1)
    reach_outside
  end

  after do
    stop_all
    mailbox.stop
    @root.db.disconnect
    FileUtils.rm_rf(@env[:YENVO_FILES])
  end

  def as(person) = Yenvo::Store::Journal::Cause.person(person, Database::NOW)

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

  def came(of) = JSON.parse(Net::HTTP.get(URI("#{@street}/")))[of]

  def clean = expect(page).to be_axe_clean.according_to(:wcag2a, :wcag2aa, :wcag21aa, :wcag22aa)

  # @return [Integer] a deal with a snag, and the task about its hull
  def a_deal(title)
    make = ->(kind, values) { @root.records.make(kind, values, cause: as("hollie"))["id"] }
    owner = make.call("contact", {"title" => "Aldo", "email" => "aldo@sea.example"})
    deal = make.call("deal", {"title" => title, "value" => 90, "boat_owner" => owner})
    make.call("ticket", {"title" => "Keel | worn", "boat" => deal, "severity" => "serious"})
    given = {"title" => "Look over the hull", "record_id" => deal, "answers" => ["Sound", "Needs work"]}
    @root.tasks.make(given, cause: as("hollie"))
    deal
  end

  def write_the_paper
    visit "/setup/papers"
    click_button "Change it"
    fill_in "Lines of the address, one a line", with: "Quay 4\nFennick Sound"
    find("input[type=file]", visible: :all).attach_file(File.expand_path("spec/support/logo.png"))
    expect(page).to have_text("logo.png")
    within("[role=dialog]") { click_button "Save" }
    expect(page).to have_css("img[alt=Logo]")
    click_button "Write a paper"
    fill_in "Name", with: "Quote"
    hand.choose "Filled in from", "Deals"
    fill_in "What it says", with: "# Quote for {{ record.titel }}"
    click_button "Add it"
    wrong = 'In line 1: record.titel must name a field of a deal; there is no "titel"'
    expect(page).to have_css("[role=alert]", text: wrong)
    fill_in "What it says", with: "# Quote for {{ record.title }}\n\nIt costs **{{ record.value }}**."
    hand.choose "Repeat for each of its", "Tickets (Boat)"
    expect(page).to have_css("[data-test=paper] canvas", wait: 15)
    clean
    click_button "Add it"
    expect(page).to have_css("tbody tr", text: /Quote.*Deals.*written here, PDF/m)
  end

  def write_the_text
    visit "/setup/texts"
    click_button "New text"
    fill_in "Name", with: "Hull"
    hand.choose "Filled in from", "Deals"
    fill_in "Subject", with: "The hull of {{ record.title }}"
    fill_in "What it says", with: "Dear {{ record.boat_owner }}, here is our quote."
    clean
    click_button "Add it"
    expect(page).to have_css("tbody tr", text: /Hull.*Deals.*nothing yet/m)
  end

  def write_the_rule
    visit "/rules/new"
    expect(page).to have_field("Name of the rule")
    hand.fill "Name of the rule", "Needs work"
    hand.choose "Trigger", "has a task finished"
    hand.fill "With the answer", "Needs work"
    hand.open("tr[data-row='0'] td:last-child button:nth-of-type(1)")
    hand.choose "What it does", "Make a paper"
    hand.choose "Which paper", "Quote"
    hand.fill "What the file is called", "Quote {{ record.title }}"
    hand.button "Add an action"
    hand.choose "What it does", "Write a mail"
    hand.choose "To 1", "an e-mail field"
    hand.pick "To 1: field", "Owner of the boat · E-mail"
    hand.choose "Its words", "Hull"
    check "Papers made by this rule"
    hand.button "Add an action"
    hand.choose "What it does", "Write on a board"
    hand.choose "Which board", "Yard board"
    hand.fill "What it says", "{{ record.title }} needs work"
    hand.button "Add an action"
    hand.choose "What it does", "Call a program"
    hand.choose "Which program", "Office"
    hand.button "Read something into a field"
    hand.fill "Answer 1: where it stands", "order.number"
    hand.choose "Answer 1: field", "Order number"
    expect(page).to have_css("[role=tab]", text: /\AChecks( ◇)?\z/, wait: 12)
    hand.button "Publish version 1"
    expect(page).to have_text("Version 1 is on")
  end

  def answer_the_task(title)
    visit "/worklist"
    click_button "Look over the hull", match: :first
    expect(page).to have_text(title)
    click_button "Needs work"
  end

  # Lets minute after minute pass, with time to work in each, until the block is true.
  def minutes_pass
    ahead = 0
    looked = 0
    wait_until("all have arrived", seconds: 90) do
      @root.moved_clock.run_on(ahead += 70) if ((looked += 1) % 25).zero?
      yield
    end
  end

  it "reaches the owner as a PDF, the board and the office, whose number lands in a field; undone, nothing leaves" do
    sign_in("Maren Oduya")
    deal = a_deal("Quiet Hour")
    write_the_paper
    write_the_text
    write_the_rule
    sign_in("Hollie Banner")
    answer_the_task("Quiet Hour")
    wait_until("the rule has run") { @root.db[:deliveries].count == 3 }
    visit "/record/#{deal}"
    expect(page).to have_css("aside a", text: "Quote Quiet Hour.pdf")
    @root.moved_clock.run_on(130)

    mail = wait_until("the mail is there", seconds: 30) { mailbox.mails.first }
    expect([mail.to, mail.subject, mail.text_part.decoded]).to eq(
      [["aldo@sea.example"], "The hull of Quiet Hour", "Dear Aldo, here is our quote."]
    )
    expect(mail.attachments.map(&:filename)).to eq(["Quote Quiet Hour.pdf"])
    expect(words_of_pdf(mail.attachments[0].decoded))
      .to include("Quay4", "QuoteforQuietHour", "Itcosts€90.", "Keel|worn")
    wait_until("the office has answered") { @root.records.find!(deal)["order_number"] }
    expect(@root.records.find!(deal)["order_number"]).to eq("OF-0001")
    expect([came("board")[0]["text"], came("office")[0]["signed"]]).to eq(["Quiet Hour needs work", "rightly"])

    other = a_deal("Tern")
    answer_the_task("Tern")
    wait_until("the rule has run again") { @root.db[:deliveries].count == 6 }
    sign_in("Maren Oduya", at: "/setup/outbox")
    expect(page).to have_css("tbody tr", text: "sent", count: 3)
    click_button "The hull of Quiet Hour"
    expect(page).to have_css("[role=dialog]", text: /Attached: Quote Quiet Hour.pdf.*taken: /m)
    visit "/trail?record=#{other}"
    click_button "Take this run back", match: :first
    within("[role=dialog]") { click_button "Take back" }
    wait_until("nothing waits any more") { @root.db[:deliveries].where(state: "waiting").empty? }
    last = {"to" => "last@b.example", "subject" => "Last", "text" => "x"}
    @root.outbox.add("mail", "mail server", last, cause: as("maren"))
    @root.moved_clock.run_on(400)
    wait_until("what was written after it has gone", seconds: 30) { mailbox.mails.any? { |one| one.subject == "Last" } }
    expect([mailbox.mails.size, came("board").size, came("office").size]).to eq([2, 1, 1])
    expect(@root.attachments.of(record_id: other)).to eq([])
  end

  it "arrives once, though the mailbox dies for a while and a sender is killed in the middle of 200" do
    second = start_worker(@url, **@env)
    mailbox.slow = 0.2
    mailbox.manner = "slow"
    content = ->(i) { {"to" => "a#{i}@b.example", "subject" => "Number #{i}", "text" => "Hello"} }
    200.times { |i| @root.outbox.add("mail", "mail server", content.call(i), cause: as("maren")) }
    sign_in("Maren Oduya", at: "/setup/outbox")
    expect(page).to have_text(/\d waiting/)
    wait_until("some have gone", seconds: 30) { mailbox.mails.size > 20 }
    kill(second)
    mailbox.manner = "dead"
    wait_until("it is noticed", seconds: 30) { @root.db[:rests].where { failures > 4 }.count == 1 }
    expect(mailbox.mails.size).to be < 200
    mailbox.manner = "take"
    minutes_pass { mailbox.mails.size == 200 }
    expect(mailbox.mails.map(&:message_id).uniq.size).to eq(200)
    wait_until("all are settled", seconds: 30) { @root.db[:deliveries].where(state: "sent").count == 200 }
    # What the killed sender had in hand may have gone twice, under the same id.
    expect(mailbox.taken).to be_between(200, 200 + 8)
    expect(page).to have_no_text(/\d waiting/, wait: 10)
  end
end
