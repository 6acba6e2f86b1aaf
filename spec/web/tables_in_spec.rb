# frozen_string_literal: true

RSpec.describe "Tables that are brought in" do
  include TableWords
  include MarkedHouse

  before do
    root.files = Dir.mktmpdir
    sign_in("hollie")
  end

  # As a browser sends a file.
  def give(bytes, kind: "contact", name: "owners.csv", type: "application/octet-stream")
    header "X-CSRF-Token", csrf
    post "/api/imports?kind=#{kind}&name=#{name}", {}, :input => bytes, "CONTENT_TYPE" => type
    JSON.parse(last_response.body)
  end

  def mapped(table)
    rows = table["plan"]["map"]["rows"].reject { |row| row["field"] == "title" }
    table["plan"]["map"].merge("rows" => [{field: "title", path: "c0"}, *rows])
  end

  it "are given, mapped, looked at, written, taken back, and what was refused comes back as a table" do
    made = give("Who,E-mail\nAldo,aldo@sea.example\nBo,nobody\n")
    expect(status).to eq(201)
    expect(made).to include("heads" => %w[Who E-mail], "sample" => [%w[Aldo aldo@sea.example], %w[Bo nobody]],
      "becomes" => {"email" => "aldo@sea.example"})
    expect(made["problems"].map { |one| one["path"] }).to eq([["rows"]])
    id = made["id"]
    call(:post, "/api/imports/#{id}/look")
    expect(status).to eq(422)
    call(:put, "/api/imports/#{id}", {map: mapped(made), empties: false})
    expect(call(:post,
      "/api/imports/#{id}/look")).to include("state" => "looking", "progress" => hash_including("done" => 0))
    work_out_jobs
    looked = get_json("/api/imports/#{id}")
    expect(looked).to include("state" => "looked", "looked" => hash_including("made" => 1, "refused" => 1, "rows" => 2))
    bad = get_json("/api/imports/#{id}/refusals")["rows"]
    expect(bad).to match([hash_including("line" => 3, "problems" => [{"label" => "E-mail", "column" => 1,
                                                                      "text" => /nobody/}])])
    call(:post, "/api/imports/#{id}/start", {rules: false})
    work_out_jobs
    expect(get_json("/api/imports/#{id}")).to include("state" => "done", "written" => hash_including("made" => 1))
    get "/api/imports/#{id}/refused"
    rows = CSV.parse(last_response.body)
    expect(rows).to match([["Who", "E-mail", "Line", "What is wrong"],
      ["Bo", "nobody", "3", /takes an e-mail address/]])
    expect(db[:audit].reverse(:id).get(:words)).to include("refused rows")
    call(:post, "/api/imports/#{id}/undo")
    work_out_jobs
    expect([get_json("/api/imports/#{id}")["state"], contacts.count]).to eq(["undone", 0])
    expect(get_json("/api/imports")["tables"].map { |one| one["id"] }).to eq([id])
    expect(call(:delete, "/api/imports/#{id}")).to include("forgotten" => true, "heads" => [], "sample" => [])
    call(:post, "/api/imports/#{id}/undo")
    expect(status).to eq(422)
  end

  it "say what rules would do before they meet them" do
    publish("name" => "Greet", "record" => "contact", "trigger" => {"when" => "record_made"},
      "branches" => [{"if" => {"all" => [{"field" => "country", "test" => "is", "value" => "ireland"}]},
                      "do" => [{"action" => "task", "title" => "Greet", "assign" => {"to" => "owner"},
                                "fallback" => {"to" => "queue", "queue" => "callbacks"}}]}])
    made = give("Name,Country\nAldo,Ireland\nBo,France\nCy,Ireland\n")
    call(:put, "/api/imports/#{made["id"]}", {map: mapped(made), empties: false})
    told = get_json("/api/imports/#{made["id"]}/rules")
    expect(told).to match("rows" => 3,
      "rules" => [{"rule" => hash_including("name" => "Greet"), "runs" => 2, "tasks" => 2}])
    expect([db[:tasks].count, contacts.count]).to eq([0, 0])
  end

  it "are read anew when it is said how they are written" do
    made = give("Name;Größe\nAldo;1\n".encode("windows-1252").b)
    expect(made["heads"]).to eq(%w[Name Größe])
    form = {separator: ",", encoding: "windows-1251", header: false}
    again = call(:put, "/api/imports/#{made["id"]}", {form:})
    expect([again["heads"], again["sample"][0][0]]).to match([["Column 1"], /Name;Gr/])
    call(:put, "/api/imports/#{made["id"]}", {form: {**form, separator: "x"}})
    expect(status).to eq(422)
  end

  it "are nobody else's" do
    id = give("Name\nAldo\n")["id"]
    sign_in("osk")
    %w[look undo stop].each { |step| call(:post, "/api/imports/#{id}/#{step}") && expect(status).to(eq(404)) }
    %w[/refusals /refused /rules].push("").each { |path|
      get_json("/api/imports/#{id}#{path}") && expect(status).to(eq(404))
    }
  end

  it "change nothing that whoever brings them may not change, and say nothing of what they do not see" do
    make("contact", {"title" => "Aldo", "email" => "aldo@sea.example", "owner" => "callum"})
    let_see("contact", "everyone", changed: "owner")
    made = give("Name,E-mail\nOther,aldo@sea.example\n")
    map = mapped(made).merge("how" => "both", "key" => "email")
    call(:put, "/api/imports/#{made["id"]}", {map:, empties: false})
    call(:post, "/api/imports/#{made["id"]}/look")
    work_out_jobs
    told = get_json("/api/imports/#{made["id"]}/refusals")["rows"][0]["problems"][0]["text"]
    expect(told).to include("not yours to change")
  end

  it "are refused when they are too long, none, or for nothing" do
    give("")
    expect(status).to eq(422)
    give("Name\nx\n", kind: "nothing")
    expect(status).to be_between(403, 422)
    give("Name\nx\n", type: "text/plain")
    expect(status).to eq(415)
    stub_const("Yenvo::Store::Imports::MOST_BYTES", 10)
    give("Name\n#{"x" * 100_000}\n")
    expect(status).to be_between(413, 422)
  end
end
