# frozen_string_literal: true

RSpec.describe "The stand-ins of the demo", :committed, :processes do
  include OutsideWorld

  let(:clock) { Database::FixedClock.new(Database::NOW) }
  let(:street) { Yenvo::Standins::Street.new(clock:, mail_port: @mail_port = free_port) }

  def settings(**more) =
    Yenvo::Settings.load(
      "DATABASE_URL" => Database.url, "YENVO_SECRET" => "s" * 64, "YENVO_DEMO" => "1",
      "YENVO_STANDINS" => @street, **more
    )

  # Built anew where the address of the stand-ins is another.
  def app = ->(env) { house_at(@street).call(env) }

  def house_at(street)
    @houses ||= {}
    @houses[street] ||= Yenvo::Web::App.build(
      Yenvo::Web::House.new(root:, clock:, settings:, live: Yenvo::Web::Live.new(root)),
      pages: File.expand_path("../fixtures/pages", __dir__)
    )
  end

  before do
    street.start
    @street = serve(street)
    root.setup_store.set("mail_from", "house@fennick.example")
    sign_in("hollie")
  end

  after do
    street.stop
    close_all
    db[:settings].where(name: "mail_from").delete
    db[:rests].delete
    Database.clear
  end

  it "show what came to each, and behave as they are told" do
    an_address("Yard board", "board", "#{@street}/board/yard")
    an_address("Office", "call", "#{@street}/office")
    sender = a_sender(mail_port: @mail_port)
    send_all = lambda do
      content = {"to" => "a@b.example", "cc" => "c@b.example", "subject" => "S", "text" => "T"}
      root.outbox.add("mail", "mail server", content,
        cause:)
      %w[yard_board office].each { |key| root.addresses.try(key, cause: cause("maren")) }
      sender.send_some
    end
    send_all.call
    came = get_json("/api/stand-ins")
    expect(came["mailbox"][0]).to include("to" => "a@b.example", "cc" => "c@b.example", "subject" => "S", "text" => "T")
    expect(came["board"][0]["text"]).to eq("A sample from Fennick Sound Boatyard, sent by Maren Oduya.")
    expect(came["office"][0]["signed"]).to eq("rightly")

    {"mailbox" => "refuse", "board" => "put_off", "office" => "dead"}.each do |of, manner|
      call(:post, "/api/stand-ins/manner", of:, manner:)
    end
    expect(get_json("/api/stand-ins")["manners"]).to eq("mailbox" => "refuse", "board" => "put_off", "office" => "dead")
    send_all.call
    expect(db[:deliveries].reverse(:id).limit(3).select_map(:state)).to eq(%w[waiting waiting failed])
    expect(call(:delete, "/api/stand-ins").values_at("mailbox", "board", "office")).to eq([[], [], []])
    call(:post, "/api/stand-ins/manner", of: "board", manner: "sing")
    expect(status).to eq(400)
  end

  it "say that they do not answer, and are nowhere outside the demo" do
    close_all
    get_json("/api/stand-ins")
    expect([status, JSON.parse(last_response.body)["error"]]).to match([502, /do not answer/])
    @street = nil
    call(:get, "/api/stand-ins")
    expect(status).to eq(404)
  end
end
