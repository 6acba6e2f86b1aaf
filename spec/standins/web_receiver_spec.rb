# frozen_string_literal: true

require "rack/test"

RSpec.describe Yenvo::Standins::WebReceiver do
  include Rack::Test::Methods

  let(:app) { described_class.new(clock: Struct.new(:now).new(Builders::NOON)) }

  def kept = JSON.parse(get("/").body)["calls"]

  it "keeps what is posted, newest first, and forgets it when told" do
    post "/hooks/one", "{\"a\":1}", "CONTENT_TYPE" => "application/json"
    post "/hooks/two", "\xFF"
    expect([last_response.status, kept.map { |call| call["path"] }, kept.last]).to eq(
      [
        202, %w[/hooks/two /hooks/one],
        {
          "path" => "/hooks/one", "type" => "application/json", "body" => "{\"a\":1}",
          "at" => "2026-11-24T12:00:00.000000Z"
        }
      ]
    )
    expect([JSON.parse(delete("/").body), kept]).to eq([{"forgotten" => 2}, []])
  end

  it "limits how much it keeps, and refuses what it does not do" do
    201.times { |i| post "/#{i}", "x" }
    expect([kept.size, kept.first["path"]]).to eq([200, "/200"])
    expect(post("/", "x" * 200_001).status).to eq(413)
    expect(put("/", "x").status).to eq(405)
  end
end
