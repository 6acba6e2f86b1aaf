# frozen_string_literal: true

RSpec.describe "Messages of rules over the API" do
  before do
    reach_outside
    sign_in("maren")
  end

  def mail(**more) =
    {
      "action" => "mail", "receivers" => [{"to" => "email", "field" => "boat_owner.email"}, {"to" => "owner"}],
      "subject" => "Your {{ record.title }}", "text" => "Dear {{ record.boat_owner }}", **more.transform_keys(&:to_s)
    }

  def body(*actions) =
    {
      "format" => "yenvo-rule/1", "name" => "Tell", "record" => "deal",
      "trigger" => {"when" => "stage_entered", "stages" => ["quoted"]}, "how_often" => "every_time",
      "branching" => "first", "branches" => [{"do" => actions}]
    }

  def a_deal(address = "aldo@sea.example", at: Database::NOW)
    owner = make("contact", {"title" => "Aldo", "email" => address}.compact, at:)["id"]
    make("deal", {"title" => "Quiet Hour", "boat_owner" => owner, "stage" => "enquiry"}, at:)["id"]
  end

  # @return [Integer] a deal for which the rule has run
  def told(*actions, at: Database::NOW)
    publish(body(*actions)) if actions.any?
    a_deal(at:).tap { |id| change(id, {"stage" => "quoted"}, at:) && work(at: at + 1) }
  end

  it "shows in a try each message as it would read, to whom, and who is left out and why" do
    deal = a_deal(nil)
    change(deal, {"stage" => "quoted"})
    board = {"action" => "board", "address" => "yard_board", "text" => "Up"}
    found = call(:post, "/api/try/one", rule: body(mail, board),
      record_id: deal)
    expect(found["effects"].map { |one| one["message"] }).to match(
      [
        {
          "to" => "hollie@fennick.example", "subject" => "Your Quiet Hour", "text" => "Dear Aldo",
          "leaves_at" => String, "attach" => []
        },
        {"to" => "Yard board", "subject" => "Up", "text" => "Up", "leaves_at" => String, "attach" => []}
      ]
    )
    expect(found["effects"][0]["notes"]).to eq(["left out: Owner of the boat · E-mail is empty"])
    expect(db[:deliveries].count).to eq(0)
  end

  it "are in the outbox by rule, record, run, destination, state and day" do
    deal = told(mail)
    other = told(at: Database::NOW + 86_400)
    root.outbox.add("mail", "mail server", {"to" => "a@b.example", "subject" => "House", "text" => "x"}, cause:)
    run = db[:runs].order(:id).first[:id]
    rule = db[:rules].get(:id)
    seen = ->(query) { get_json("/api/outbox?#{query}")["messages"].map { |one| one["record"]&.fetch("id") } }
    expect(seen["rule=#{rule}"]).to eq([other, deal])
    expect([seen["record=#{deal}"], seen["run=#{run}"]]).to eq([[deal], [deal]])
    expect([seen["from=2026-11-25"], seen["till=2026-11-24"]]).to eq([[other], [nil, deal]])
    expect([seen["destination=address/office"], seen["state=sent"]]).to eq([[], []])
    expect(get_json("/api/outbox?rule=#{rule}")["messages"][0]["rule"]).to eq("id" => rule, "name" => "Tell")
    get_json("/api/outbox?from=soon")
    expect(status).to eq(422)
  end

  it "go once more, all that failed at one destination" do
    told(mail)
    root.outbox.add("mail", "mail server", {"to" => "a@b.example", "subject" => "Link", "text" => "x"}, cause:,
      secret: true)
    db[:deliveries].update(state: "failed")
    expect(get_json("/api/outbox")["destinations"].map { |one| one.values_at("name", "failed") }).to eq(
      [["mail server", 2], ["Office program", 0], ["Yard board", 0]]
    )
    expect(call(:post, "/api/outbox/again", destination: "mail server")).to eq("again" => 1)
    expect(db[:deliveries].order(:id).select_map(:state)).to eq(%w[waiting failed])
  end

  it "stand in the run and on the record with how they fare" do
    deal = told(mail)
    run = db[:runs].get(:id)
    expect(get_json("/api/runs/#{run}")["actions"][0]).to include("message" => "waiting", "action" => "mail")
    entries = get_json("/api/records/#{deal}/history?before=99999999")["entries"]
    words = entries.find { |one| one["messages"].any? }["messages"][0]["words"]
    expect(words.map { |piece| piece.values[0] }.join)
      .to eq("Yenvo wrote: Mail to aldo@sea.example, Hollie Banner: Your Quiet Hour · waits to leave")
  end

  it "wait for whoever caused them where the rule asks first, and are changed, sent or thrown away by them alone" do
    told(mail(ask: true))
    expect(get_json("/api/proposals")["proposals"]).to eq([])
    sign_in("hollie")
    one = get_json("/api/proposals")["proposals"][0]
    expect(one.values_at("task", "message")).to match(
      [nil,
        hash_including("way" => "mail", "subject" => "Your Quiet Hour",
          "to" => "aldo@sea.example, Hollie Banner")]
    )
    call(:post, "/api/proposals/#{one["id"]}/send", task: {})
    expect([status,
      JSON.parse(last_response.body)["fields"]]).to eq([422, {"task" => "A message waits here, no task."}])
    call(:post, "/api/proposals/#{one["id"]}/send-message", message: {text: " "})
    expect([status, JSON.parse(last_response.body)["fields"]]).to eq([422, {"text" => "The text takes a few words."}])
    sign_in("osk")
    call(:post, "/api/proposals/#{one["id"]}/send-message", message: {})
    expect(status).to eq(404)
    sign_in("hollie")
    sent = call(:post, "/api/proposals/#{one["id"]}/send-message", message: {subject: "Hers\r\nBcc: x@y.example"})
    row = root.outbox.find!(sent["message"])
    expect(row.slice(:subject, :by).values).to eq(["Hers Bcc: x@y.example", "hollie"])
  end

  it "show whoever is asked no address that they may not see" do
    levels = {"seen_by" => "owner", "changed_by" => "owner", "taken_away_by" => "owner", "kept" => []}
    Yenvo::Store::AccessChanges.new(root).change("contact", levels, cause: cause("maren"))
    root.forget
    owner = make("contact", {"title" => "Aldo", "email" => "aldo@sea.example", "owner" => "tobias"},
      who: "tobias")["id"]
    publish(body(mail(ask: true)))
    deal = make("deal", {"title" => "Quiet Hour", "boat_owner" => owner, "stage" => "enquiry"})["id"]
    change(deal, {"stage" => "quoted"}) && work
    sign_in("hollie")
    shown = get_json("/api/proposals")["proposals"]
    expect([shown.size, shown.to_s]).to match([1, a_string_matching(/\A(?!.*(aldo@|Aldo))/)])
  end

  it "hold no more than they may" do
    told(mail(text: "x" * 4_001)) && raise("It was published")
  rescue Yenvo::Core::InvalidRule => error
    expect(error.problems.join).to match(/at most 4000 characters/)
  end
end
