# frozen_string_literal: true

# Timers are kept right after each thing that happened; what did not change is not looked at.
RSpec.describe "Yenvo::Store::Upkeep" do
  def publish_timer(from: "launch_date", **more) =
    publish(
      {
        "trigger" => {
          "when" => "date_timer",
          "date" => {"count" => 1, "unit" => "days", "direction" => "before", "from" => from, "at" => "08:00"}
        },
        "branches" => [{"do" => [{"action" => "log", "way" => "note", "text" => "Near"}]}]
      }.merge(more.transform_keys(&:to_s))
    )

  def timers = db[:timers].order(:record_id).select_map(%i[record_id due_at])
  def happened = db[:journal].order(:id).all.map { |row| root.journal.event(row) }
  def follow(*events) = root.upkeep.follow(events, now: Database::NOW)

  let(:eight) { ->(day) { root.calendar.zone.at(Date.iso8601(day), 480) } }

  it "sets, moves and takes away the timer of the record that changed, and no other" do
    publish_timer
    one, other = %w[2026-12-10 2026-12-22].map { |day| make("deal", "launch_date" => day)["id"] }
    follow(*happened)
    expect(timers).to eq([[one, eight.call("2026-12-09")], [other, eight.call("2026-12-21")]])
    kept = db[:timers].where(record_id: other).get(:id)
    change(one, {"launch_date" => "2026-12-15"})
    follow(happened.last)
    expect(timers.first).to eq([one, eight.call("2026-12-14")])
    change(one, {"launch_date" => nil})
    follow(happened.last)
    expect([timers.map(&:first), db[:timers].get(:id)]).to eq([[other], kept])
  end

  it "writes nothing for what cannot have moved a timer, however often it is told" do
    publish_timer
    deal = make("deal", "launch_date" => "2026-12-10")["id"]
    follow(*happened)
    before = db[:timers].first
    change(deal, {"value" => 7})
    make("contact", "title" => "Aldo")
    2.times { follow(*happened) }
    expect([db[:timers].count, db[:timers].first]).to eq([1, before])
  end

  it "asks the database no more for many records than for few" do
    publish_timer
    Array.new(6) { |i| make("deal", "title" => "Boat #{i}", "launch_date" => "2026-12-1#{i}") }
    all = happened
    root.in_force.timed(root.epoch)
    asked = [all.last(6), all.last(1)].map { |some| statements { follow(*some) } }
    expect(asked[0]).to be_positive.and eq(asked[1])
    expect(db[:timers].count).to eq(6)
  end

  it "asks once for the tasks of all records whose date a rule about tasks counts from" do
    publish_timer("record" => "task", :from => "about_deal.launch_date")
    deals = Array.new(4) { |i| make("deal", "title" => "Boat #{i}", "launch_date" => "2026-12-1#{i + 4}")["id"] }
    deals.each { |id| root.tasks.make({"title" => "Call", "record_id" => id}, cause:) }
    deals.each { |id| change(id, {"launch_date" => "2026-12-22"}) }
    moved = happened.last(4)
    root.in_force.timed(root.epoch)
    asked = [moved, moved.first(1)].map { |some| statements { follow(*some) } }
    expect(asked[0]).to be_positive.and eq(asked[1])
    expect(timers.map(&:last).uniq).to eq([eight.call("2026-12-21")])
  end

  it "forgets the timers of a record that is taken away" do
    publish_timer("record" => "entry/launch_roster")
    entry = make("entry/launch_roster", "launch_date" => "2026-12-10")["id"]
    follow(*happened)
    expect(timers.map(&:first)).to eq([entry])
    root.list_entries.take_off(entry, cause:)
    expect(timers).to eq([])
  end

  it "knows the next moment at which something happens of itself: a timer, a task that gets late, a reminder" do
    expect(root.upkeep.next_moment(after: Database::NOW, till: Database::NOW + 86_400)).to be_nil
    publish_timer
    make("deal", "launch_date" => "2026-12-10")
    follow(*happened)
    far = Database::NOW + (90 * 86_400)
    expect(root.upkeep.next_moment(after: Database::NOW, till: far)).to eq(eight.call("2026-12-09"))
    root.tasks.make({"title" => "Call", "due_on" => "2026-12-03"}, cause:)
    expect(root.upkeep.next_moment(after: Database::NOW, till: far)).to eq(
      root.calendar.zone.midnight(Date.new(2026, 12, 4))
    )
    root.tasks.make({"title" => "Write", "remind_at" => "2026-12-01T09:00:00Z"}, cause:)
    expect(root.upkeep.next_moment(after: Database::NOW, till: far)).to eq(
      root.calendar.zone.at(Date.new(2026, 12, 1), 540)
    )
    expect(root.upkeep.next_moment(after: Database::NOW, till: Database::NOW + 3_600)).to be_nil
  end
end
