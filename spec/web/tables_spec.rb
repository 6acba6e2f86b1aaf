# frozen_string_literal: true

require "csv"

RSpec.describe "Tables that are given out" do
  # As a browser follows the link: the whole answer, read by a library.
  def table(path)
    get path
    CSV.parse(last_response.body, headers: true)
  end

  def headers = last_response.headers

  it "are what a list shows, narrowed as it is, all pages of it" do
    sign_in("hollie")
    120.times { |n| make("deal", "title" => "Boat #{n}", "value" => n, "stage" => n.even? ? "quoted" : "enquiry") }
    found = table("/api/records/table?kind=deal&where.stage=quoted&sort=value&down=0")
    expect([status, headers["content-type"], headers["content-disposition"]]).to match(
      [200, "text/csv; charset=utf-8; header=present", /attachment; filename\*=UTF-8''Deals\.csv/]
    )
    expect(found["Title"]).to eq((0...120).step(2).map { |n| "Boat #{n}" })
    expect([found[1]["Stage"], found[1]["Value"], found[1]["Owner"]]).to eq(["Quoted", "2", "Hollie Banner"])
    expect(last_response.body.lines).to all(end_with("\r\n"))
    get "/api/records/table?kind=nope"
    expect([status, last_response.body]).to match([422, /There is no kind of record/])
  end

  it "hold nothing that a spreadsheet would run, and whatever else was typed" do
    sign_in("hollie")
    make("deal", "title" => "=HYPERLINK(\"http://x\")")
    make("deal", "title" => "Two, \"quoted\" 🚤")
    expect(table("/api/records/table?kind=deal&sort=title&down=0")["Title"]).to eq(
      ["'=HYPERLINK(\"http://x\")", "Two, \"quoted\" 🚤"]
    )
  end

  it "are the worklist, the runs, the figures of the team and the audit, too" do
    publish(survey_rule)
    make("deal", "stage" => "survey_booked", "owner" => "wen")
    work
    sign_in("maren")
    tasks = table("/api/worklist/table?who=all")
    expect(tasks.map { |row| row.to_h.slice("Title", "About", "Assigned to", "Priority", "Rule") }).to eq(
      [{
        "Title" => "Call about Quiet Hour", "About" => "Quiet Hour", "Assigned to" => "Wen Zhao",
        "Priority" => "normal", "Rule" => "Survey booked"
      }]
    )
    expect(table("/api/worklist/table?who=nobody").size).to eq(0)
    expect(table("/api/trail/table").map { |row| row.to_h.slice("About", "State", "Tasks") }).to eq(
      [{"About" => "Quiet Hour", "State" => "ran", "Tasks" => "1"}]
    )
    expect(table("/api/trail/table?result=failed").size).to eq(0)
    expect(table("/api/team/table?by=person").find { |row| row["Person"] == "Wen Zhao" }["Open"]).to eq("1")
    expect(table("/api/audit/table?what=taken_out")["Done"]).to include(
      "took out the table “Tasks”", "took out the table “Team”"
    )
  end

  it "show nobody what they may not see" do
    call_kind = {seen_by: "administrators"}
    db[:kinds].where(key: "deal").update(call_kind)
    root.transaction { root.setup_store.changed(who: nil, now: Database::NOW) }
    make("deal")
    sign_in("hollie")
    expect(table("/api/records/table?kind=deal").size).to eq(0)
    get "/api/audit/table"
    expect(status).to eq(403)
    get "/api/team/table"
    expect(status).to eq(403)
    clear_cookies
    get "/api/records/table?kind=deal"
    expect(status).to eq(401)
  end

  it "go on page by page" do
    sign_in("maren")
    rows = Array.new(1_200) { |n| {what: "rules", words: "did #{n}", who: "maren", at: Database::NOW, changes: "[]"} }
    db[:audit].multi_insert(rows)
    found = table("/api/audit/table?what=rules")
    expect([found.size, found["Number"].map(&:to_i)]).to match([1_200, satisfy { |ids| ids == ids.sort.reverse.uniq }])
  end
end
