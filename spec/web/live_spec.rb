# frozen_string_literal: true

RSpec.describe "Live news", :committed, :processes do
  let!(:address) { start_web(Database.url) }

  def descriptors = Dir.children("/proc/#{web_pid}/fd").size

  def open_streams(guest, count)
    streams = Array.new(count) { guest.listen }
    wait_until("they are open") { streams.all? { |stream| stream.heard?(": hello") } }
    streams
  end

  it "reaches an open page within two seconds of what a worker did" do
    publish(survey_rule)
    start_worker(Database.url)
    # What is timed is the news, not the start of a worker.
    make("contact", "title" => "Somebody else")
    wait_until("the worker is up", seconds: 20) { root.waiting.count.zero? }
    stream = open_streams(Streams::Guest.new(address, "hollie"), 1)[0]
    id = make("deal", "stage" => "survey_booked")["id"]
    wait_until("the news came", seconds: 2) do
      stream.heard?("\"tasks\":[#{db[:tasks].get(:id) || "?"}]") && stream.heard?("\"records\":[#{id}]")
    end
  ensure
    stream&.close
  end

  it "tells of what waits for somebody to send it, which comes after the entry that it answers" do
    id = make("deal")["id"]
    stream = open_streams(Streams::Guest.new(address, "hollie"), 1)[0]
    make("contact", "title" => "Somebody else")
    wait_until("it listens") { stream.heard?("records") }
    rule = publish(survey_rule)[:id]
    root.proposals.add("hollie", {record_id: id, title: "Lift"}, rule_id: rule, run_id: 1, at: Database::NOW)
    wait_until("the news came") { stream.heard?("\"records\":[#{id}]") }
  ensure
    stream&.close
  end

  it "tells of what a rule writes, which has no entry of its own" do
    id = make("deal")["id"]
    stream = open_streams(Streams::Guest.new(address, "hollie"), 1)[0]
    make("contact", "title" => "Somebody else")
    wait_until("it listens") { stream.heard?("records") }
    by_rule = Yenvo::Store::Journal::Cause.new(who: nil, at: Database::NOW, run: 1, rule: 1, depth: 1)
    content = {"to" => "aldo@sea.example", "subject" => "Hello", "text" => "Hello"}
    entries = db[:journal].count
    root.outbox.add("mail", "mail server", content, cause: by_rule, record_id: id, kind: "deal", words: "Mail to Aldo")
    wait_until("the news came") { stream.heard?("\"records\":[#{id}]") }
    expect(db[:journal].count).to eq(entries)
    # Of two who write at once whoever took the lower number may be through later.
    later = make("deal")["id"]
    wait_until("it heard of the deal") { stream.heard?("\"records\":[#{later}]") }
    stream.heard.clear
    row = db[:deliveries].reverse(:id).first
    db[:deliveries].insert(row.merge(id: row[:id] - 1, message_id: "late@yenvo", record_id: later))
    wait_until("the late one came") { stream.heard?("\"records\":[#{later}]") }
  ensure
    stream&.close
  end

  it "keeps what could not be told for the next look" do
    heard = +""
    live = Yenvo::Web::Live.new(root, every: 0.01)
    failed = false
    onlookers = Object.new
    onlookers.define_singleton_method(:share) do |news, persons|
      first = !failed
      failed = true
      raise Sequel::PoolTimeout if first

      persons.to_h { |person| [person, news] }
    end
    live.instance_variable_set(:@onlookers, onlookers)
    reader, writer = IO.pipe
    writer.define_singleton_method(:write_nonblock) { |text, **| write(text) }
    writer.define_singleton_method(:read_nonblock) { |*, **| :wait_readable }
    live.call("rack.hijack" => -> { writer }, "yenvo.person" => {key: "hollie"})
    id = make("deal")["id"]
    wait_until("the news came") { (heard << reader.read_nonblock(4_096, exception: false).to_s).include?("[#{id}]") }
    expect(failed).to be(true)
  ensure
    writer&.close
  end

  it "reaches only who may see what it is about, and who saw it until now" do
    see = ->(level) do
      given = {"seen_by" => level, "changed_by" => level, "taken_away_by" => "owner", "kept" => []}
      Yenvo::Store::AccessChanges.new(root).change("deal", given, cause: cause("maren"))
    end
    see.call("team")
    ours, theirs = %w[osk wen].to_h { |name| [name, open_streams(Streams::Guest.new(address, name), 1)[0]] }.values
    id = make("deal", "owner" => "hollie")["id"]
    wait_until("the news came") { ours.heard?("\"records\":[#{id}]") }
    change(id, {"owner" => "tobias"})
    wait_until("the news came") { theirs.heard?("\"records\":[#{id}]") }
    wait_until("it is gone for them") { ours.heard?(id.to_s) && ours.heard.scan("[#{id}]").size == 2 }
    last = make("deal", "owner" => "wen")["id"]
    wait_until("the news came") { theirs.heard?("\"records\":[#{last}]") }
    expect([ours.heard?("#{last}]"), theirs.heard.scan("[#{id}]").size]).to eq([false, 1])
  ensure
    [ours, theirs].compact.each(&:close)
    see.call("everyone")
  end

  it "keeps no descriptor of pages that have gone, before or after the greeting" do
    guests = %w[hollie wen callum tobias ines osk].map { |name| Streams::Guest.new(address, name) }
    # The process keeps its connections to the database, of which there are at most twelve.
    before = descriptors + 12
    guests.each do |guest|
      open_streams(guest, 8).each(&:close)
      # Gone at once, before anything was said.
      2.times { guest.listen.close }
    end
    wait_until("the descriptors are free again") { descriptors <= before }
    open_streams(guests[0], 10).each(&:close)
  end

  it "opens ten to a person, says to the next that it is too many, and has room again when one has gone" do
    guest = Streams::Guest.new(address, "hollie")
    streams = open_streams(guest, 10)
    refused = guest.ask("Get", "/api/live")
    expect([refused.code, refused["retry-after"], JSON.parse(refused.body)["error"]]).to match(
      ["503", "30", /Too many pages/]
    )
    other = open_streams(Streams::Guest.new(address, "wen"), 1)
    streams.pop.close
    make("contact", "title" => "News")
    wait_until("there is room again") do
      (one = guest.listen) && streams.push(one) && wait_until("an answer") { one.heard?("HTTP/1.1") } &&
        one.heard?("200 OK")
    end
  ensure
    [*streams, *other].each(&:close)
  end

  it "ends with the session: signed out, too old, or of somebody who has left" do
    guests = %w[hollie wen callum tobias].to_h { |name| [name, Streams::Guest.new(address, name)] }
    streams = guests.transform_values { |guest| open_streams(guest, 1)[0] }
    expect(guests["hollie"].ask("Post", "/api/sign-out").code).to eq("200")
    root.db[:people].where(key: "wen").update(active: false)
    db[:account_active_session_keys].where(account_id: db[:accounts].where(person: "callum").select(:id)).update(
      last_use: Sequel.lit("NOW() - INTERVAL 13 HOUR")
    )
    wait_until("three have ended") { %w[hollie wen callum].all? { |name| streams[name].ended? } }
    expect([streams["tobias"].ended?, guests["hollie"].ask("Get", "/api/setup").code]).to eq([false, "401"])
  ensure
    root.db[:people].update(active: true)
    streams&.each_value(&:close)
  end

  it "tells pages to look at everything again when more has changed than it names" do
    stream = open_streams(Streams::Guest.new(address, "hollie"), 1)[0]
    root.transaction { 250.times { |i| make("contact", "title" => "Owner #{i}") } }
    wait_until("it is told") { stream.heard?("data: {\"all\":true}") }
  ensure
    stream&.close
  end
end
