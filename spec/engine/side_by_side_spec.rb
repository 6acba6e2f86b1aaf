# frozen_string_literal: true

require "tempfile"
require "yaml"

# What real processes do beside each other on one database: web, workers and the command line.
RSpec.describe "Side by side", :committed, :processes do
  after { stop_all }

  def rule_file(name)
    Tempfile.create([name, ".yml"]) do |file|
      file.write({"format" => "yenvo-rule/1", "record" => "deal"}.merge(survey_rule("name" => name)).to_yaml)
      file.close
      yield file.path
    end
  end

  # @return [Array<String>] status codes of all answers
  def asked_by_many(address, calls_each)
    guests = Array.new(8) { |i| Streams::Guest.new(address, %w[hollie tobias maren wen][i % 4]) }
    guests.each_with_index.map { |guest, i| Thread.new { Array.new(calls_each) { |n| guest.ask(*yield(i, n)).code } } }
      .flat_map(&:value)
  end

  it "many people log notes and calls on one record, and none is refused or lost" do
    id = make("deal")["id"]
    address = start_web(Database.url)
    codes =
      asked_by_many(address, 10) do |i, n|
        [
          "Post", "/api/records/#{id}/interactions",
          JSON.generate(way: %w[note call email][n % 3], text: "Said #{i} #{n}")
        ]
      end
    expect(codes.tally).to eq("201" => 80)
    expect(db[:interactions].where(record_id: id).select_map(:text).uniq.size).to eq(80)
  end

  it "a running worker hears of a publication that was held up while another was asked for and an event came in " \
    "between" do
    first =
      root.rules.make(
        Yenvo::Core::RuleReader.read!(
          {"format" => "yenvo-rule/1", "record" => "deal"}.merge(survey_rule("name" => "One"))
        ),
        cause: cause("maren")
      )
    start_worker(Database.url)
    held = Yenvo::Store::Root.open(Database.url, connections: 1)
    publishing = nil
    rule_file("Two") do |path|
      held.transaction do
        held.rules.publish(first[:id], held.rules.draft_of(first), cause: cause("maren"))
        publishing =
          Thread.new { ForkServer.run("publish", path, "--as", "maren", env: {"DATABASE_URL" => Database.url}) }
        make("deal", "title" => "Between", "stage" => "survey_booked")
        wait_until("the worker has settled what came between", seconds: 30) { root.waiting.count.zero? }
        # The command line has begun its own by now, and waits.
        wait_until("the other waits for this one", seconds: 30) do
          # Not INNODB_LOCK_WAITS: that table stays as it was for as long as somebody looks more often than each 0.1 s.
          db.fetch("SHOW GLOBAL STATUS LIKE 'Innodb_row_lock_current_waits'").first[:Value].to_i.positive?
        end
      end
      expect(publishing.value).to match([/Two/, "", 0])
    end
    make("deal", "title" => "After", "stage" => "survey_booked")
    wait_until("both rules have made their task", seconds: 30) do
      db[:tasks].where(title: "Call about After").count == 2
    end
    expect(db[:tasks].where(title: "Call about Between").count).to eq(0)
  ensure
    held&.db&.disconnect
  end

  it "several workers set aside the one entry at fault, and settle every other" do
    publish(survey_rule)
    ids = Array.new(300) { |i| make("deal", "title" => "Boat #{i}", "stage" => "survey_booked")["id"] }
    bad = ids[137]
    db[:journal].where(record_id: bad).update(after: "{broken")
    3.times { start_worker(Database.url) }
    wait_until("all but one are settled", seconds: 60) { db[:waiting].where(last_error: nil).empty? }
    expect(root.waiting.aside.map { |row| row[:record_id] }).to eq([bad])
    expect(db[:tasks].select_order_map(:record_id)).to eq(ids - [bad])
  end
end
