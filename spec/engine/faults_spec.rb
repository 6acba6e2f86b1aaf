# frozen_string_literal: true

# What holds when processes stand still, get in each other's way, or come late. With real processes and connections.
RSpec.describe "Under faults", :committed, :processes do
  def another = (@others ||= []).push(Yenvo::Store::Root.open(Database.url, connections: 2)).last
  def monotonic = Process.clock_gettime(Process::CLOCK_MONOTONIC)

  after do
    stopped.each { |pid| Process.kill("CONT", pid) }
    stop_all
    (@others || []).each { |other| other.db.disconnect }
  end

  def stopped = @stopped ||= []

  # @return [Integer] how many entries of the queue somebody has at hand
  def at_hand =
    root.db.transaction { db[:waiting].count - db[:waiting].select(:entry_id).for_update.skip_locked.all.size }

  # Starts a worker and stops it by a signal while it has entries at hand.
  def stop_worker_in_a_turn
    pid = start_worker(Database.url)
    wait_until("a worker stands still in a turn", seconds: 30) do
      next unless at_hand.positive?

      Process.kill("STOP", -pid)
      # What was on its way to the database has arrived by then.
      next true if Array.new(5) { at_hand }.all?(&:positive?)

      Process.kill("CONT", -pid)
      false
    end
    stopped << -pid
  end

  it "keeps saves, pages and a second worker going while a worker stands still in the middle of a turn" do
    publish(survey_rule)
    600.times { |i| make("deal", "title" => "Boat #{i}", "stage" => "survey_booked") }
    address = start_web(Database.url)
    guest = Streams::Guest.new(address, "hollie")
    other = make("deal", "title" => "Other", "stage" => "quoted")["id"]
    stop_worker_in_a_turn
    began = monotonic
    answer = guest.ask("Patch", "/api/records/#{other}", JSON.generate(version: 1, values: {stage: "survey_booked"}))
    expect([answer.code, guest.ask("Get", "/api/worklist").code, guest.ask("Get", "/healthz").code]).to eq(
      %w[200 200 200]
    )
    expect(monotonic - began).to be < 5
    start_worker(Database.url)
    wait_until("the second worker has made its task", seconds: 20) { db[:tasks].where(record_id: other).count == 1 }
  end

  it "logs notes and calls of many people on one record at once" do
    id = make("deal")["id"]
    errors = Queue.new
    threads = Array.new(16) do |i|
      Thread.new do
        house = Yenvo::Store::Root.open(Database.url, connections: 1)
        5.times { |n| house.interactions.log(id, %w[note call email][n % 3], "Said #{i} #{n}", cause:) }
      rescue => error
        errors << error
      ensure
        house&.db&.disconnect
      end
    end
    threads.each(&:join)
    expect([errors.size, db[:interactions].where(record_id: id).count]).to eq([0, 80])
  end

  it "draws links beside saves of the same records" do
    ids = Array.new(4) { |i| make("deal", "title" => "Boat #{i}")["id"] }
    errors = Queue.new
    work =
      ids.permutation(2).map { |one, other| ->(house) { house.links.add(one, other, cause:) } } +
      ids.map { |id| ->(house) { 8.times { |n| house.records.change(id, {"value" => n}, cause:) } } }
    work.map { |step|
      Thread.new do
        house = Yenvo::Store::Root.open(Database.url, connections: 1)
        step.call(house)
      rescue => error
        errors << error
      ensure
        house&.db&.disconnect
      end
    }.each(&:join)
    expect(errors.size).to eq(0)
  end

  it "numbers epochs in the order of their commits, so that no publication goes unheard" do
    rules =
      %w[One Two].map do |name|
        root.rules.make(
          Yenvo::Core::RuleReader.read!(
            {"format" => "yenvo-rule/1", "record" => "deal"}.merge(survey_rule("name" => name))
          ),
          cause: cause("maren")
        )
      end
    slow = another
    fast = another
    begun = Queue.new
    go = Queue.new
    first = Thread.new do
      slow.transaction do
        slow.rules.publish(rules[0][:id], slow.rules.draft_of(rules[0]), cause: cause("maren"))
        begun << true
        go.pop
      end
    end
    begun.pop
    second = Thread.new { fast.rules.publish(rules[1][:id], fast.rules.draft_of(rules[1]), cause: cause("maren")) }
    # The second has to wait for the first; were it through, it would have the greater number all the same.
    second.join(0.5)
    make("deal", "title" => "Between", "stage" => "survey_booked")
    root.in_force.book(root.epoch)
    go << true
    [first, second].each(&:join)
    make("deal", "title" => "After", "stage" => "survey_booked")
    book = root.in_force.book(root.epoch)
    expect(book.rules.map { |rule| rule.rule.name }).to contain_exactly("One", "Two")
    work
    expect(db[:tasks].where(title: "Call about After").count).to eq(2)
    numbers = db[:epochs].where(what: "published").order(:id).select_map(:id)
    expect(numbers).to eq(db[:rule_spans].order(:id).select_map(:from_epoch).sort)
  end

  it "says that a save may have been made when the database goes away while committing" do
    house = another
    allow(house.db).to receive(:transaction).and_wrap_original do |whole, **options, &block|
      whole.call(**options, &block)
      raise Sequel::DatabaseDisconnectError, "Lost connection"
    end
    expect { house.transaction { house.db[:settings].count } }.to raise_error(Yenvo::Store::Uncertain)
    allow(house.db).to receive(:transaction).and_raise(Sequel::DatabaseDisconnectError, "Lost connection")
    expect { house.transaction { house.db[:settings].count } }.to raise_error(Sequel::DatabaseDisconnectError)
  end

  it "waits seconds for a lock in a web process, and says that others are at it" do
    id = make("deal")["id"]
    guest = Streams::Guest.new(start_web(Database.url), "hollie")
    holder = another
    holder.db.transaction do
      holder.db[:records].where(id:).for_update.first
      began = monotonic
      answer = guest.ask("Patch", "/api/records/#{id}", JSON.generate(version: 1, values: {value: 5}))
      expect([answer.code, JSON.parse(answer.body)["error"]]).to eq(["503", Yenvo::Web::Doorway::BUSY])
      expect(monotonic - began).to be_between(3, 15)
    end
    expect(guest.ask("Patch", "/api/records/#{id}", JSON.generate(version: 1, values: {value: 5})).code).to eq("200")
  end

  it "answers for its health while every thread waits for a lock" do
    id = make("deal")["id"]
    port = free_port
    guest = Streams::Guest.new(start_web(Database.url, YENVO_HEALTH_PORT: port.to_s, YENVO_THREADS: "2"), "hollie")
    callers = []
    another.db.transaction do
      @others.last.db[:records].where(id:).for_update.first
      callers =
        Array.new(4) do
          Thread.new { guest.ask("Patch", "/api/records/#{id}", JSON.generate(version: 1, values: {value: 5})).code }
        end
      wait_until("they wait") do
        db.fetch("SHOW FULL PROCESSLIST").all.count { |row| row[:Info].to_s.include?("FOR UPDATE") } == 2
      end
      began = monotonic
      expect([answers?("http://127.0.0.1:#{port}", "/healthz"), answers?("http://127.0.0.1:#{port}")]).to eq(
        [true, true]
      )
      expect(monotonic - began).to be < 2
    end
    expect(callers.map(&:value)).to include("200")
  end

  it "has the server end a session that stands still within a transaction" do
    expect(root.db.get(Sequel.lit("@@session.idle_transaction_timeout"))).to eq(30)
    house = another
    expect {
      house.transaction do
        house.db.synchronize { |conn| conn.query("SET SESSION idle_transaction_timeout=1") }
        house.db[:settings].count
        IO.select(nil, nil, nil, 1.6)
        house.db[:settings].count
      end
    }.to raise_error(Sequel::DatabaseDisconnectError)
    expect(house.transaction { house.db[:people].count }).to be_positive
  end

  it "takes smaller turns after it was in others' way, and larger ones again when all went well" do
    worker =
      Yenvo::Engine::Worker.new(
        root, clock: Database::FixedClock.new(Database::NOW), log: instance_double(SemanticLogger::Logger, warn: nil),
        batch_size: 40, poll_seconds: 0.001
      )
    limits = []
    turn = worker.instance_variable_get(:@turn)
    outcomes = [:conflict, :conflict, 5, 5, 5, 5]
    allow(turn).to receive(:take) do |limit:, now:|
      limits << limit
      found = outcomes.shift
      raise(Sequel::SerializationFailure, "Deadlock") if found == :conflict

      found
    end
    6.times { worker.turn }
    expect(limits).to eq([40, 10, 2, 4, 8, 16])
  end
end
