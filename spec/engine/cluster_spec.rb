# frozen_string_literal: true

# A cluster of two real nodes: web and people at the one, a worker at the other.
RSpec.describe "A cluster", :committed, :processes do
  before(:all) do
    @cluster = Cluster.new(File.expand_path("../../tmp/cluster", __dir__))
    @urls = @cluster.urls("yenvo_cluster")
    Database.fill_at(@urls[0])
  end

  after(:all) { @cluster&.stop }
  after { stop_all }

  def root = @here ||= Yenvo::Store::Root.open(@urls[0], connections: 4)

  after { root.db.disconnect }

  # Saves record after record at the first node.
  # @return [Integer] how often a record came into the stage that the rule watches
  def save_for(seconds, ids)
    ends = Process.clock_gettime(Process::CLOCK_MONOTONIC) + seconds
    saved = 0
    while Process.clock_gettime(Process::CLOCK_MONOTONIC) < ends
      change(ids[saved % ids.size], {"stage" => (saved / ids.size).even? ? "survey_booked" : "accepted"})
      saved += 1
    end
    db[:journal].where(what: "record_changed").select_map(:after)
      .count { |after| JSON.parse(after)["stage"] == "survey_booked" }
  end

  it "lets a worker through beside people who save the same records at another node; a node without a majority is " \
    "not ready" do
    publish(survey_rule)
    ids = Array.new(20) { |i| make("deal", "title" => "Boat #{i}")["id"] }
    start_worker(@urls[1])
    entered = save_for(8, ids)
    # Most are made while the others still save, and none is lost or doubled.
    expect(db[:tasks].count).to be > entered / 4
    wait_until("the worker has settled all", seconds: 60) { root.waiting.count.zero? }
    expect(db[:tasks].count).to eq(entered)

    address = start_web(@urls[1])
    expect(answers?(address)).to be(true)
    @cluster.kill(0)
    wait_until("the node that is left says that it is not ready", seconds: 30) { !answers?(address) }
    expect(Net::HTTP.get(URI("#{address}/readyz"))).to include("not part of a cluster that has a majority")
    expect(answers?(address, "/healthz")).to be(true)
  end
end
