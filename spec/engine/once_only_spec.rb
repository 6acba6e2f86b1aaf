# frozen_string_literal: true

# Whatever dies when: every event is met once. With real processes, real signals and a real server.
RSpec.describe "Once and only once", :committed, :processes do
  def make_events(count)
    owner = make("contact", "title" => "Aldo")["id"]
    count.times { |i| make("deal", "title" => "Boat #{i}", "stage" => "survey_booked", "boat_owner" => owner) }
  end

  def tasks_by_record = db[:tasks].group_and_count(:record_id).map { |row| row[:count] }

  it "finds every task once after workers were killed again and again in the middle of 500 events" do
    publish(
      survey_rule(
        "branches" => [
          {
            "do" =>
              [1, 2].map do |i|
                {
                  "action" => "task", "title" => "Task #{i}", "assign" => {"to" => "owner"},
                  "fallback" => {"to" => "queue", "queue" => "callbacks"}
                }
              end
          }
        ]
      )
    )
    make_events(500)
    total = root.waiting.count
    pid = start_worker(Database.url, YENVO_BATCH: "7")
    kills = 0
    wait_until("all events are settled", seconds: 90) do
      left = root.waiting.count
      if left.positive? && left < total - ((kills + 1) * 60)
        kill(pid)
        kills += 1
        pid = start_worker(Database.url, YENVO_BATCH: "7")
      end
      left.zero?
    end
    expect(kills).to be >= 5
    expect(db[:runs].count).to eq(500)
    expect(tasks_by_record).to eq([2] * 500)
    expect(db[:journal].where(what: "task_made").count).to eq(1000)
  end

  it "counts once per record over all triggers of a rule" do
    publish(
      survey_rule(
        "how_often" => "once_per_record",
        "trigger" => {"any" => [{"when" => "record_made"}, {"when" => "record_changed", "field" => "value"}]}
      )
    )
    deals = %w[One Two].map { |name| make("deal", "title" => name)["id"] }
    work
    change(deals[0], {"value" => 5})
    work
    expect(db[:tasks].select_order_map(:record_id)).to eq(deals)
  end

  it "carries out runs of every sort once, whoever is killed in between" do
    publish(
      "name" => "Made", "trigger" => {"when" => "record_made"},
      "branches" => [
        {
          "do" => [
            {
              "action" => "record", "kind" => "ticket",
              "values" => [{"field" => "title", "text" => "Look at {{ record.title }}"}], "link" => "boat"
            },
            {"action" => "set", "values" => [{"field" => "value", "formula" => "or_else(value, 0) + 1"}]},
            {"action" => "list", "put" => "on", "list" => "launch_roster"},
            {"action" => "log", "way" => "note", "text" => "Seen"},
            {"action" => "notice", "assign" => {"to" => "person", "person" => "wen"}, "text" => "{{ record.title }}"}
          ]
        }
      ]
    )
    publish(
      "name" => "Ticket", "record" => "ticket", "trigger" => {"when" => "record_made"},
      "branches" => [
        {"do" => [{"action" => "task", "title" => "Look", "assign" => {"to" => "queue", "queue" => "yard_work"}}]}
      ]
    )
    120.times { |i| make("deal", "title" => "Boat #{i}") }
    pid = start_worker(Database.url, YENVO_BATCH: "5")
    kills = 0
    wait_until("all events are settled", seconds: 90) do
      if kills < 5 && db[:runs].count > (kills + 1) * 30
        kill(pid)
        kills += 1
        pid = start_worker(Database.url, YENVO_BATCH: "5")
      end
      root.waiting.count.zero?
    end
    counts = {
      tickets: db[:records].where(kind: "ticket").count, entries: db[:records].where(kind: "entry/launch_roster").count,
      notes: db[:interactions].count, told: db[:notices].count, tasks: db[:tasks].count, runs: db[:runs].count
    }
    expect([kills, counts]).to eq([5, {tickets: 120, entries: 120, notes: 120, told: 120, tasks: 120, runs: 240}])
    expect(
      root.records.images(db[:records].where(kind: "deal").select_map(:id)).values.map { |image| image["value"] }.uniq
    ).to eq([1])
  end

  it "lets four workers share one journal, each record in the order things happened" do
    publish(
      survey_rule(
        "trigger" => {"when" => "record_changed", "field" => "value"},
        "branches" => [
          {
            "do" => [
              {
                "action" => "task", "title" => "{{ record.value }}",
                "assign" => {"to" => "queue", "queue" => "callbacks"}
              }
            ]
          }
        ]
      )
    )
    ids = Array.new(25) { |i| make("deal", "title" => "Boat #{i}")["id"] }
    4.times { start_worker(Database.url, YENVO_BATCH: "3") }
    (1..12).each { |value| ids.each { |id| change(id, {"value" => value}) } }
    wait_until("all events are settled", seconds: 60) { root.waiting.count.zero? }
    orders = ids.map { |id| db[:tasks].where(record_id: id).order(:id).select_map(:title) }
    expect(orders).to all(eq((1..12).map { |value| "€#{value}" }))
  end

  it "ends a worker after the turn at hand when it is told to stop" do
    publish(survey_rule)
    make_events(60)
    pid = start_worker(Database.url, YENVO_BATCH: "5")
    wait_until("it has begun") { db[:runs].count.positive? }
    kill(pid, "TERM")
    expect(db[:runs].count).to eq(db[:tasks].count)
    expect(db[:runs].count + root.waiting.count).to be >= 60
  end
end

RSpec.describe "A database that goes and comes back", :committed, :processes do
  folder = File.expand_path("../../tmp/restart-db", __dir__)

  def database(command, folder, port: nil)
    out, status = Open3.capture2({"YENVO_DATABASE_PORT" => port}.compact, "bin/database", command, folder)
    raise "bin/database #{command} failed" unless status.success?

    out.strip
  end

  after { database("stop", folder) }

  it "lets a running worker and web process carry on" do
    port = free_port.to_s
    server = database("start", folder, port:)
    allow(Database).to receive(:server).and_return(server)
    url = Database.make(Database.name("restart"))
    house = Yenvo::Store::Root.open(url, connections: 2)
    rule = Yenvo::Core::RuleReader.read!({"format" => "yenvo-rule/1", "record" => "deal"}.merge(survey_rule))
    house.rules.publish(house.rules.make(rule, cause: cause("maren"))[:id], rule, cause: cause("maren"))
    start_worker(url)
    address = start_web(url)

    %w[stop kill].each_with_index do |way, i|
      database(way, folder)
      expect([answers?(address, "/healthz"), answers?(address, "/")]).to eq([true, true])
      expect(answers?(address)).to be(false)
      refusal = JSON.parse(Net::HTTP.get(URI("#{address}/readyz")))
      expect(refusal["error"]).to eq(
        "Yenvo cannot reach its database just now. Nothing was saved; try again in a moment."
      )
      database("start", folder, port:)
      wait_until("the web process answers again", seconds: 60) { answers?(address) }
      house.records.make("deal", {"title" => "After #{way}", "stage" => "survey_booked"}, cause:)
      wait_until("the worker has made the task", seconds: 60) { house.db[:tasks].count == i + 1 }
    end
  ensure
    stop_all
    house&.db&.disconnect
  end
end
