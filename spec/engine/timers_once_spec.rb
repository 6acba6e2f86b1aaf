# frozen_string_literal: true

# Every timer fires once, in order per record, whatever dies when and however many come due at once.
RSpec.describe "Timers, once and only once", :committed, :processes do
  def task(title) = {"action" => "task", "title" => title, "assign" => {"to" => "queue", "queue" => "callbacks"}}

  def timer(days, at: "08:00", from: "launch_date") =
    {
      "when" => "date_timer",
      "date" => {
        "count" => days, "unit" => "days", "direction" => "before", "from" => from, "at" => at, "day_off" => "stays"
      }
    }

  def clock(at) = {YENVO_CLOCK: at.iso8601}

  # Rows straight into the tables: saving each is measured elsewhere.
  def many(count, rule, due:)
    stamp = Database::NOW - 86_400
    ids = (1..count).map { |i| 1_000_000 + i }
    ids.each_slice(2_000) do |some|
      db[:records].multi_insert(
        some.map do |id|
          {
            id:, kind: "deal", title: "Boat #{id}", stage: "accepted", made_at: stamp, changed_at: stamp,
            stage_since: stamp, fields: JSON.generate("launch_date" => "2026-12-10")
          }
        end
      )
      db[:timers].multi_insert(
        some.map do |id|
          {
            rule_id: rule[:id], version_id: rule[:version_id], purpose: "record", kind: "deal", record_id: id,
            due_at: due, look: false
          }
        end
      )
    end
  end

  it "fires each of 500 once though workers are killed again and again in the middle" do
    rule = publish("trigger" => timer(5), "branches" => [{"do" => [task("One"), task("Two")]}])
    work
    many(500, rule, due: Time.utc(2026, 12, 5, 8))
    late = Time.utc(2026, 12, 5, 9)
    pid = start_worker(Database.url, YENVO_BATCH: "7", **clock(late))
    kills = 0
    wait_until("all have fired", seconds: 90) do
      done = db[:runs].count
      if kills < 6 && done > (kills + 1) * 60
        kill(pid)
        kills += 1
        pid = start_worker(Database.url, YENVO_BATCH: "7", **clock(late))
      end
      done == 500
    end
    expect(kills).to eq(6)
    expect(db[:tasks].group_and_count(:record_id).map { |row| row[:count] }).to eq([2] * 500)
    expect(db[:journal].where(what: "timer_fired").count).to eq(500)
    expect(db[:timers].exclude(due_at: nil).count).to eq(0)
  end

  it "fires 10,000 that are due in the same second, shared by four workers" do
    rule = publish("trigger" => timer(5), "branches" => [{"do" => [task("Now")]}])
    work
    many(10_000, rule, due: Time.utc(2026, 12, 5, 8))
    4.times { start_worker(Database.url, YENVO_BATCH: "100", **clock(Time.utc(2026, 12, 5, 8, 0, 1))) }
    wait_until("all have fired", seconds: 120) { db[:timers].exclude(due_at: nil).empty? }
    expect([db[:runs].count, db[:tasks].count, db[:tasks].distinct.select(:record_id).count]).to eq(
      [10_000, 10_000, 10_000]
    )
  end

  it "fires what came due in three days without a worker, each once, in order per record, marked late" do
    (1..4).each do |days|
      publish("name" => "Days #{days}", "trigger" => timer(days), "branches" => [{"do" => [task("#{days} before")]}])
    end
    ids = Array.new(12) { |i| make("deal", "title" => "Boat #{i}", "launch_date" => "2026-12-10")["id"] }
    work
    3.times { start_worker(Database.url, YENVO_BATCH: "3", **clock(Time.utc(2026, 12, 9, 10))) }
    wait_until("all have fired", seconds: 60) { db[:tasks].count == 48 && root.waiting.count.zero? }
    expect(ids.map { |id| db[:tasks].where(record_id: id).order(:id).select_map(:title) }).to all(
      eq(["4 before", "3 before", "2 before", "1 before"])
    )
    late = db[:journal].where(what: "timer_fired").select_map(:detail).map { |text| JSON.parse(text)["late"] }
    expect(late.minmax).to match([be_between(120, 125), be_between((3 * 1440) + 120, (3 * 1440) + 125)])
  end

  it "leaves nothing behind when its record is taken away at the moment it is due, whichever comes first" do
    publish("record" => "entry/launch_roster", "trigger" => timer(5), "branches" => [{"do" => [task("Now")]}])
    taken, kept =
      %w[Taken Kept].map { |title| make("entry/launch_roster", "title" => title, "launch_date" => "2026-12-10")["id"] }
    work
    other = Yenvo::Store::Root.open(Database.url, connections: 1)
    held = Queue.new
    go = Queue.new
    remover = Thread.new do
      other.transaction do
        other.records.lock(taken)
        held << true
        go.pop
        other.list_entries.take_off(taken, cause: cause(at: Time.utc(2026, 12, 5, 8)))
      end
    end
    held.pop
    worker = Thread.new { work(at: Time.utc(2026, 12, 5, 8, 0, 1)) }
    wait_until("the worker waits for the record, or has left it") do
      !worker.alive? ||
        db[Sequel[:information_schema][:processlist]].where(Sequel.like(:info, "%LOCK IN SHARE MODE%"))
          .where(Sequel.~(Sequel.like(:info, "%processlist%"))).any?
    end
    go << true
    [remover, worker].each(&:join)
    work(at: Time.utc(2026, 12, 5, 8, 1))
    expect(db[:tasks].select_map(:record_id)).to eq([kept])
    expect(db[:timers].where(record_id: taken).count).to eq(0)
    root.list_entries.take_off(kept, cause: cause(at: Time.utc(2026, 12, 5, 9)))
    expect(db[:timers].where(record_id: kept).count).to eq(0)
  ensure
    other&.db&.disconnect
  end
end
