# frozen_string_literal: true

RSpec.describe "bin/yenvo mail", :committed do
  include LetterWords

  # As a mail server starts it.
  # @return [Array(Integer, String)] how it ended, and what it complained
  def brought(bytes, to, url: Database.url)
    env = {"DATABASE_URL" => url, "YENVO_SECRET" => "s" * 64, "YENVO_CLOCK" => "2026-11-24T12:00:00Z"}
    _, err, code = ForkServer.run("mail", "--to", to, env:, input: bytes)
    [code, err]
  end

  it "ends as mail servers know it, and makes what two bring at the same time once" do
    a_mail_door
    bytes = a_letter
    ends = Array.new(2) { Thread.new { brought(bytes, "snags@yard.example") } }.map { |thread| thread.value[0] }
    expect([ends, db[:records].where(kind: "ticket").select_map(:title)]).to eq([[0, 0], ["The pump leaks"]])
    expect(brought(a_letter, "nobody@yard.example")).to eq([67, "Nobody takes mail at nobody@yard.example.\n"])
    expect(brought("nothing", "snags@yard.example")).to match([65, /does not say from whom it is/])
    away = Database.url.sub(/\w+\z/, "nowhere")
    expect(brought(a_letter, "snags@yard.example", url: away)).to match([75, /bring it again later/])
  end
end
