# frozen_string_literal: true

require "puma"

RSpec.describe Yenvo::Standins::Feed do
  let(:clock) { Struct.new(:now).new(Time.utc(2026, 11, 28, 10)) }
  let(:came) { [] }

  # Where the feed sends to, within the process of an example.
  def listen
    take = ->(env) do
      came << [env["PATH_INFO"], env["HTTP_AUTHORIZATION"], JSON.parse(env["rack.input"].read)]
      [202, {}, ["{}"]]
    end
    server = Puma::Server.new(take, nil, log_writer: Puma::LogWriter.null)
    port = server.add_tcp_listener("127.0.0.1", 0).addr[1]
    server.run
    yield "http://127.0.0.1:#{port}"
  ensure
    server.stop(true)
  end

  it "sends its events in order, one of them twice, each as CloudEvents 1.0, with the secret of the door" do
    listen do |to|
      feed = described_class.new(to:, clock:)
      expect([feed.play, feed.left, feed.play(all: true), feed.play, feed.left]).to eq([1, 6, 6, 0, 0])
      ids = came.map { |_, _, event| event["id"] }
      expect([ids.size, ids.uniq.size]).to eq([7, 6])
      path, secret, event = came[0]
      expect([path, secret]).to eq(["/in/#{described_class::ADDRESS}", "Bearer #{described_class::SECRET}"])
      expect(event).to include("specversion" => "1.0", "source" => described_class::SOURCE,
        "type" => described_class::TYPE, "time" => "2026-11-28T10:00:00Z")
      expect(feed.sent.map { |one| one[:status] }.uniq).to eq([202])
      feed.clear
      expect([feed.sent, feed.left]).to eq([[], 7])
    end
  end

  it "notes that nothing answers" do
    feed = described_class.new(to: "http://127.0.0.1:1", clock:)
    feed.play
    expect(feed.sent[0]).to include(status: 0, answer: "Errno::ECONNREFUSED")
  end
end
