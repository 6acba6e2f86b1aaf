# frozen_string_literal: true

require_relative "browser_helper"
require_relative "../support/hands"

# From a sample that is pasted to tasks that a program outside caused, by the processes that do it.
RSpec.describe "A feed of reviews" do
  include Processes

  let(:hand) { Hands::Mouse.new(page) }
  let(:saturday) { "2026-11-28T10:00:00Z" }

  before do
    @url = Database.make(Database.name("programs"))
    web, street = free_port, free_port
    house = "http://127.0.0.1:#{web}"
    env = {YENVO_CLOCK: saturday, YENVO_ADDRESS: house}
    standins = start_stand_ins(street, free_port, **env)
    start_worker(@url, **env)
    Capybara.app_host = start_web(@url, port: web, YENVO_STANDINS: standins, **env)
    @root = Yenvo::Store::Root.open(@url, connections: 1)
  end

  after do
    stop_all
    @root.db.disconnect
  end

  def cause = Yenvo::Store::Journal::Cause.person("maren", Time.iso8601(saturday))
  def clean = expect(page).to be_axe_clean.according_to(:wcag2a, :wcag2aa, :wcag21aa, :wcag22aa)

  def publish(name, condition, due)
    plain = {
      "format" => "yenvo-rule/1", "name" => name, "record" => "entry/words_about_us",
      "trigger" => {"when" => "message_in"}, "branches" => [{
        "if" => {"all" => [condition]}, "do" => [
          {
            "action" => "task", "title" => "Answer “{{ record.title }}”",
            "assign" => {"to" => "queue", "queue" => "callbacks"}, "due" => due
          }
        ]
      }]
    }
    rule = Yenvo::Core::RuleReader.read!(plain)
    row = @root.rules.make(rule, cause:)
    @root.rules.publish(row[:id], rule, cause:)
  end

  def due_of(title)
    at = @root.db[:tasks].where(title: "Answer “#{title}”").get(:due_at)
    at && TZInfo::Timezone.get("Europe/Dublin").to_local(at).strftime("%a %H:%M")
  end

  def tasks = @root.db[:tasks].count

  def sample
    event = Yenvo::Standins::Feed::EVENTS[0]
    JSON.pretty_generate("id" => event["id"], "source" => "x", "type" => "y", "data" => event["data"])
  end

  def open_a_door
    visit "/setup/programs"
    click_button "New door"
    fill_in "Name", with: "Reviews"
    hand.choose "Makes", "Words about us"
    clean
    click_button "Go on"
    expect(page).to have_text("The secret, shown this once: whsec_")
    find_field("A message as it looks").set(sample)
    click_button "Fill it from the message"
    expect(page).to have_css("[data-test=door-rows] li[aria-label=Stars]", text: "becomes 5")
    hand.choose "Fill in a field", "Title"
    within("li[aria-label=Title]") { choose_from("Where it stands", "data.headline") }
    expect(page).to have_css("li[aria-label=Title]", text: "becomes Fair winds again")
    hand.choose "Fill in a field", "Came from"
    within("li[aria-label='Came from']") do
      choose_from("Where it stands", "data.site")
      find("summary").click
      fill_in "Harbour board", with: "board"
      fill_in "By post", with: "post"
      fill_in "Sailing paper", with: "paper"
      find_field("Sailing paper").send_keys(:tab)
    end
    clean
    click_button "Save and open it"
    expect(page).to have_css("[data-test=door-state]", text: "Open.")
    # The stand-in knows but one door.
    feed = Yenvo::Standins::Feed
    @root.db[:doors].where(key: "reviews").update(address: feed::ADDRESS, secret: feed::SECRET)
  end

  it "makes tasks of five reviews over a weekend, none of one that comes twice, and takes a broken one when mended" do
    publish("Cross", {"field" => "stars", "test" => "at_most", "value" => 2},
      {"count" => 1, "unit" => "days", "at" => "08:00", "day_off" => "stays"})
    publish("Kind", {"field" => "stars", "test" => "at_least", "value" => 3},
      {"count" => 5, "unit" => "working_days", "at" => "17:00"})
    sign_in("Maren Oduya")
    open_a_door
    visit "/stand-ins"
    click_button "Send all 7"
    expect(page).to have_css("section[aria-label=Feed] li", count: 7, wait: 30)
    expect(page).to have_css("section[aria-label=Feed] li", text: "answered 422", count: 1)
    clean
    wait_until("all are met") { tasks == 5 }
    expect([due_of("Nobody rang back"), due_of("Good, but cold")]).to eq(["Sun 08:00", "Fri 17:00"])
    visit "/setup/programs"
    expect(page).to have_css("[data-test=inbox] li", text: 'Came from has no choice "wireless"')
    clean
    click_button "Reviews"
    within("li[aria-label='Came from']") do
      find("summary").click
      fill_in "Sailing paper", with: "paper, wireless"
      find_field("Sailing paper").send_keys(:tab)
    end
    click_button "Save"
    click_button "Back"
    click_button "Take it again"
    expect(page).to have_text("It is taken.").and(have_text("Nothing waits here."))
    expect(@root.db[:records].where(kind: "entry/words_about_us").count).to eq(6)
    expect(tasks).to eq(5)
  end
end
