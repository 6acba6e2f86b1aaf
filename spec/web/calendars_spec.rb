# frozen_string_literal: true

require "icalendar"

RSpec.describe "The calendar of one's tasks" do
  before { sign_in("wen") }

  def a_task(title, **more)
    given = {"title" => title, "assignee" => "wen", **more.transform_keys(&:to_s)}
    call(:post, "/api/tasks", given)["id"]
  end

  # As another program reads it, without a sign-in, by a library.
  def calendar(path)
    clear_cookies
    get path
    Icalendar::Calendar.parse(last_response.body).first
  end

  it "is read under an address that is made, made anew and ended by a press" do
    expect(get_json("/api/me/calendar")).to eq("address" => nil, "events" => false)
    one = call(:post, "/api/me/calendar", events: false)["address"]
    expect(one).to match(%r{\A/calendars/[A-Za-z0-9]{43}\.ics\z})
    two = call(:post, "/api/me/calendar", events: true)["address"]
    expect(get(one).status).to eq(404)
    expect(get(two).status).to eq(200)
    expect(call(:delete, "/api/me/calendar")["address"]).to be_nil
    expect(get(two).status).to eq(404)
    sign_in("maren")
    expect(get_json("/api/audit?what=access")["rows"].map { |row| row["words"] }).to include(
      "made a private address of their calendar", "ended the private address of their calendar"
    )
  end

  it "holds each open task as RFC 5545 has it, by day, by time, or without a date" do
    path = call(:post, "/api/me/calendar", events: true)["address"]
    day = root.calendar.date_of(Database::NOW) + 3
    a_task("Rig; the, mast", due_on: day.iso8601, priority: "urgent", text: "Two\nlines")
    a_task("Ring Aldo", due_on: day.iso8601, due_at: "14:30")
    done = a_task("Done already", due_on: day.iso8601)
    call(:post, "/api/tasks/#{done}/done", {})
    found = calendar(path)
    ring, mast = found.todos
    expect([last_response.headers["content-type"], mast.summary.to_s, ring.summary.to_s]).to eq(
      ["text/calendar; charset=utf-8", "Rig; the, mast", "Ring Aldo"]
    )
    expect([mast.due.to_date, mast.priority, mast.description.to_s]).to eq([day, 1, "Two\nlines"])
    expect(mast.status).to eq("NEEDS-ACTION")
    at = root.calendar.zone.at(day, (14 * 60) + 30)
    zulu = ->(time) { time.utc.strftime("%Y%m%dT%H%M%SZ") }
    expect(ring.due.value_ical).to eq(zulu.call(at))
    expect(found.events.map { |one| [one.dtstart, one.dtend].map(&:value_ical) }).to eq(
      [[at, at + 1_800].map(&zulu), [day, day + 1].map { |one| one.strftime("%Y%m%d") }]
    )
    expect(found.todos.map { |one| one.uid.to_s }.uniq.size).to eq(2)
  end

  it "shows nobody what the person may not see, and nothing once they have left" do
    path = call(:post, "/api/me/calendar", events: false)["address"]
    deal = make("deal", "owner" => "maren")["id"]
    a_task("Rig", record_id: deal)
    expect(calendar(path).todos.size).to eq(1)
    db[:kinds].where(key: "deal").update(seen_by: "administrators")
    root.transaction { root.setup_store.changed(who: nil, now: Database::NOW) }
    expect(calendar(path).todos.size).to eq(0)
    db[:people].where(key: "wen").update(active: false)
    expect(get(path).status).to eq(404)
    ["/calendars/x.ics", "/calendars/.ics", "/calendars/%00.ics", "/calendars/#{"x" * 5_000}.ics"].each do |other|
      expect(get(other).status).to be_between(400, 404)
    end
  end

  it "is not asked for without end" do
    path = call(:post, "/api/me/calendar", events: false)["address"]
    31.times { get path }
    expect([last_response.status, last_response.headers["retry-after"]]).to eq([429, "60"])
  end
end
