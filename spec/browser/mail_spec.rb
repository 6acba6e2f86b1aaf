# frozen_string_literal: true

require_relative "browser_helper"

# Somebody is invited by mail, by the processes that do it.
RSpec.describe "A way in by mail" do
  include Processes

  let(:port) { free_port }
  let(:mailbox) { Yenvo::Standins::Mailbox.new(port:) }

  before do
    mailbox.start
    url = Database.make(Database.name("mail"))
    web = free_port
    env = {SMTP_URL: "smtp://127.0.0.1:#{port}", YENVO_ADDRESS: "http://127.0.0.1:#{web}", YENVO_CLOCK: Browser::CLOCK}
    start_worker(url, **env)
    Capybara.app_host = start_web(url, port: web, **env)
  end

  after do
    stop_all
    mailbox.stop
  end

  it "lets in who has forgotten their password, by a link that is made when it leaves" do
    root = Yenvo::Store::Root.open(Database.url.sub(/\w+\z/, Database.name("mail")), connections: 1)
    root.setup_store.set("mail_from", "house@fennick.example")
    visit "/forgotten"
    fill_in "E-mail address", with: "hollie@fennick.example"
    click_button "Ask for a link"
    expect(page).to have_text("a mail is on its way to it")
    mail = wait_until("the mail is there", seconds: 30) { mailbox.mails.first }
    visit mail.text_part.decoded[%r{http://\S+}]
    fill_in "Password", with: "copper string seven"
    click_button "Set it and sign in"
    expect(page).to have_css("h1", text: "Worklist", visible: :all)
    expect(root.db[:deliveries].get(:content)).not_to include("welcome")
  ensure
    root&.db&.disconnect
  end

  it "arrives with a link that lets them in, and stands in the outbox without it" do
    sign_in("Maren Oduya", at: "/setup/outbox")
    expect(page).to have_text("The house has no address yet from which its mail is sent.")
    fill_in "Mail is sent from", with: "house@fennick.example"
    click_button "Save the address"
    click_button "Send a mail to me"
    expect(page).to have_css("tr", text: "Mail of Fennick Sound Boatyard arrives")
    expect(page).to be_axe_clean.according_to(:wcag2a, :wcag2aa, :wcag21aa, :wcag22aa)
    visit "/setup/people"
    click_button "New person"
    fill_in "Name", with: "Ada Grey"
    fill_in "E-mail, to sign in with", with: "ada@grey.example"
    click_button "Invite them"
    expect(page).to have_text("It is on its way to ada@grey.example by mail.")
    mail = wait_until("the mail is there", seconds: 20) { mailbox.mails.find { |one| one.to == ["ada@grey.example"] } }
    expect(mail.subject).to eq("You are invited to Fennick Sound Boatyard")
    visit "/setup/outbox"
    click_button "You are invited to Fennick Sound Boatyard"
    expect(page).to have_css("[role=dialog]", text: /It holds a link that lets somebody in.*taken: .*250/m)
    Capybara.using_session(:ada) do
      visit mail.text_part.decoded[%r{http://\S+}]
      fill_in "Password", with: "copper string seven"
      click_button "Set it and sign in"
      expect(page).to have_css("h1", text: "Worklist", visible: :all)
    end
  end
end
