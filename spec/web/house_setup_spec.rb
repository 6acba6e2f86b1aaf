# frozen_string_literal: true

RSpec.describe "The house and its calendar over the API" do
  before { sign_in("maren") }

  def house = get_json("/api/setup/house")["house"]

  def save(more = {}, **changes)
    call(:put, "/api/setup/house", house: {**house, **changes.transform_keys(&:to_s)}, **more)
  end

  def sentence = JSON.parse(last_response.body)["fields"].values.first
  def off(date) = {"from" => date, "to" => date, "name" => "Stock", "yearly" => false}

  # A call three working days after a deal is made, on a timer of its own.
  def waiting_rule =
    publish(
      survey_rule(
        "name" => "Chase",
        "trigger" => {
          "when" => "date_timer", "date" => {
            "from" => "survey_date", "count" => 3, "unit" => "working_days",
            "at" => "09:00"
          }
        }
      )
    )

  it "shows and changes name, money, numbers, hours and days off" do
    shown = get_json("/api/setup/house")
    expect(shown["house"]).to include(
      "name" => "Fennick Sound Boatyard", "zone" => "Europe/Dublin", "holidays" => "ie", "currency" => "EUR",
      "number_form" => "point"
    )
    expect(shown["house"]["hours"].first).to eq("day" => 1, "from" => "08:00", "to" => "17:30")
    expect(shown["offered"]["regions"]).to include("key" => "lv", "name" => "Latvia")
    rest = {"from" => "2026-12-24", "to" => "2027-01-01", "name" => "Workshop shut", "yearly" => true}
    after = save(
      name: "Ozola pianos", zone: "Europe/Riga", holidays: "lv", currency: "SEK", number_form: "comma",
      hours: [{day: 7, from: "10:00", to: "14:00"}, {day: 1, from: "09:00", to: "17:00"}], days_off: [rest]
    )
    expect(status).to eq(200), after.to_s
    expect(after["house"]).to include(
      "name" => "Ozola pianos", "number_form" => "comma", "days_off" => [rest],
      "hours" => [{"day" => 1, "from" => "09:00", "to" => "17:00"}, {"day" => 7, "from" => "10:00", "to" => "14:00"}]
    )
    expect(root.calendar.zone.name).to eq("Europe/Riga")
    expect([Date.new(2026, 11, 29), Date.new(2028, 12, 25), Date.new(2031, 1, 1)].map { |day|
      root.calendar.off_because(day)
    })
      .to eq([nil, "Workshop shut", "Workshop shut"])
    expect(get_json("/api/session")["house"]).to eq("Ozola pianos")
  end

  it "says before how many timers and tasks move, moves them as jobs, and leaves tasks alone unless asked" do
    waiting_rule
    deals = %w[2026-12-07 2026-12-14].map { |date| make("deal", "survey_date" => date)["id"] }
    work
    task = call(:post, "/api/tasks", title: "Oil the felt", due_on: "2026-12-10", due_at: "11:00",
      record_id: deals[0])["id"]
    due = -> { db[:timers].where(purpose: "record").order(:record_id).select_map(:due_at) }
    before = due.call
    changed = {**house, "days_off" => [off("2026-12-10")]}
    expect(call(:post, "/api/setup/house/preview", house: changed)).to eq("timers" => 1, "tasks" => 1, "more" => false)
    expect(due.call).to eq(before)
    expect(save(days_off: changed["days_off"])["jobs"]).to match([include("what" => "timers", "state" => "waiting")])
    work
    expect(due.call).to eq([before[0] + 86_400, before[1]])
    expect(db[:tasks].where(id: task).get(:due_on)).to eq(Date.new(2026, 12, 10))

    call(:post, "/api/tasks", title: "Given up", due_on: "2026-12-10")["id"].then { |id|
      call(:post, "/api/tasks/#{id}/drop", {})
    }
    save({redate: true}, days_off: [off("2026-12-10"), off("2026-12-11")])
    work
    expect(db[:tasks].where(id: task).get(%i[due_on due_minutes])).to eq([Date.new(2026, 12, 14), 660])
    expect(get_json("/api/setup/house")["jobs"]).to match([include("what" => "redate", "state" => "done",
      "started" => 1)])
    expect(get_json("/api/records/#{deals[0]}/history?before=99999999").to_s).to include("Maren Oduya put off")
  end

  it "shows a year of a calendar that is not saved yet: what is off, and why" do
    days = call(:post, "/api/setup/house/year", house: {**house, holidays: "lv"}, year: 2027)["days"]
    expect(days).to include(
      {"date" => "2027-11-18", "why" => "Dibināšanas diena", "weekly" => false}
    ).or include("date" => "2027-11-18", "why" => /./, "weekly" => false)
    expect(days.find { |day| day["date"] == "2027-01-09" }).to include("why" => "Saturday", "weekly" => true)
    call(:post, "/api/setup/house/year", house:, year: 12_000)
    expect(status).to eq(422)
  end

  it "reads a calendar file without saving it" do
    text = "BEGIN:VCALENDAR\r\nBEGIN:VEVENT\r\nDTSTART;VALUE=DATE:20261224\r\nDTEND;VALUE=DATE:20270102\r\n" \
      "SUMMARY:Shut\r\nRRULE:FREQ=YEARLY\r\nEND:VEVENT\r\nEND:VCALENDAR\r\n"
    found = call(:post, "/api/setup/house/file", text:)
    expect(found).to eq(
      "days_off" => [{
        "from" => "2026-12-24", "to" => "2027-01-01", "name" => "Shut",
        "yearly" => true
      }], "left_out" => 0
    )
    expect(status).to eq(200)
    call(:post, "/api/setup/house/file", text: text.sub("DTEND", "DT END"))
    expect([status, sentence]).to eq(
      [422, "Line 4 does not fit a calendar file: \"DT END;VALUE=DATE:20270102\"."]
    )
    call(:post, "/api/setup/house/file", text: "x" * 1_500_000)
    expect([status, sentence]).to eq([422, "A calendar file has at most 1 MB; this one is larger."])
    call(:post, "/api/setup/house/file", text: "x" * 50_000_000)
    expect(status).to eq(413)
  end

  it "refuses what is no calendar, with a sentence at its place, and saves nothing of it" do
    before = house
    {
      {zone: "Europe/Nowhere"} => "There is no time zone \"Europe/Nowhere\"; choose one such as Europe/Dublin.",
      {hours: []} => "The week needs at least one day on which somebody works.",
      {hours: [{day: 1, from: "09:00", to: "08:00"}]} => "Monday must end after it begins; 09:00 to 08:00 does not.",
      {holidays: "atlantis"} => "Public holidays of \"atlantis\" are not known; choose a region by name.",
      {currency: "XXQ"} => "There is no currency \"XXQ\"; choose one such as EUR.",
      {number_form: "roman"} => "Numbers have a point or a comma.",
      {name: " "} => "The name of the house takes a few words.",
      {days_off: [{from: "2026-12-24", to: "2026-12-20", name: "Shut"}]} =>
        "“Shut” ends on or after the day it begins.",
      {days_off: [{from: "2026-02-30", to: "2026-03-01", name: "Shut"}]} =>
        "“Shut” has a first and a last day between 1900 and 2200, such as 2026-12-24.",
      {days_off: [{from: "2026-01-01", to: "2027-06-01", name: "Shut"}]} => "“Shut” has at most 366 days.",
      {days_off: Array.new(401) { off("2026-12-24") }} => "A calendar holds 400 days off."
    }.each do |changes, words|
      save(**changes)
      expect([status, sentence]).to eq([422, words])
    end
    expect(house).to eq(before)
  end

  it "tells the second of two who save at once, and loses nothing of the first" do
    stamp = get_json("/api/setup/house")["stamp"]
    mine = house
    save(name: "First")
    header "X-Seen-Setup", stamp.to_s
    answer = call(:put, "/api/setup/house", house: {**mine, "number_form" => "comma"})
    expect([status, answer["error"]]).to match([409, /\AMaren Oduya has changed the same in the meantime/])
    header "X-Seen-Setup", nil
    expect(house).to include("name" => "First", "number_form" => "point")
    header "X-Seen-Setup", stamp.to_s
    stages = get_json("/api/setup")["kinds"].find { |one| one["key"] == "deal" }["stages"]
    call(:put, "/api/setup/stages", kind: "deal", stages: [*stages, {label: "Sailed"}])
    expect(status).to eq(200)
    call(:put, "/api/setup/stages", kind: "deal", stages: [*stages, {label: "Sold on"}])
    expect(status).to eq(409)
    call(:put, "/api/setup/desks/teams", key: "accounts", team: {name: "Books"})
    expect(status).to eq(200)
    call(:put, "/api/setup/desks/teams", key: "accounts", team: {name: "Ledgers"})
    expect(status).to eq(409)
  end

  it "is administrators' alone" do
    sign_in("tobias")
    get_json("/api/setup/house")
    expect(status).to eq(403)
  end
end
