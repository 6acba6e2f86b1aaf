# frozen_string_literal: true

RSpec.describe "Many records at once over the API", :engine do
  include MarkedHouse
  include TableWords

  let(:ids) { Array.new(3) { |n| make("deal", {"title" => "Boat #{n}", "owner" => "hollie"})["id"] } }

  def begin_change(**body) = call(:post, "/api/bulk", {kind: "deal", **body})
  def seen(id) = get_json("/api/bulk/#{id}").slice("state", "total", "waiting", "changed", "back", "refused")

  it "changes those that were chosen, or all that match, and undoes it" do
    ids
    make("deal", {"title" => "Other"})
    sign_in("hollie")
    one = begin_change(what: "set", field: "stage", value: "quoted", records: ids.first(2))
    expect([status, one["words"], one["total"], one["state"]]).to eq([201, "Stage to Quoted", 2, "running"])
    work_out_jobs
    expect(seen(one["id"])).to include("state" => "done", "changed" => 2)
    two = begin_change(what: "trash", query: {"where.stage" => "quoted", "search" => "boat"})
    work_out_jobs
    expect(get_json("/api/records?kind=deal")["count"]).to eq(2)
    call(:post, "/api/bulk/#{two["id"]}/undo")
    work_out_jobs
    expect(seen(two["id"])).to include("state" => "undone", "back" => 2)
    expect(get_json("/api/bulk")["changes"].map { |row| row["id"] }).to eq([two["id"], one["id"]])
    call(:post, "/api/bulk/#{two["id"]}/stop")
    expect(status).to eq(422)
    call(:post, "/api/bulk/#{two["id"]}/anything")
    expect(status).to be_between(400, 404)
  end

  it "is each person's own, and reaches nothing that is hidden" do
    begin_change(what: "trash", records: ids)
    expect(status).to eq(401)
    let_see("deal", "owner")
    make("deal", {"title" => "Mine", "owner" => "osk"})
    sign_in("osk")
    expect(begin_change(what: "trash", records: ids)["error"]).to match(/nothing to change/)
    expect(begin_change(what: "trash", query: {})["total"]).to eq(1)
    id = db[:bulk_changes].get(:id)
    sign_in("hollie")
    [[:get, ""], [:post, "/stop"], [:post, "/undo"]].each do |method, step|
      call(method, "/api/bulk/#{id}#{step}")
      expect(status).to eq(404)
    end
  end

  it "puts on lists for those alone who may add to them" do
    db[:kinds].where(key: "entry/launch_roster").update(changed_by: "administrators")
    root.setup_store.changed(who: nil, now: Database::NOW)
    root.forget
    sign_in("hollie")
    begin_change(what: "list", list: "entry/launch_roster", records: ids)
    expect([status, db[:bulk_changes].count]).to eq([403, 0])
    sign_in("maren")
    begin_change(what: "list", list: "entry/launch_roster", records: ids)
    expect(status).to eq(201)
  end

  it "answers what cannot be with a sentence" do
    sign_in("maren")
    [
      [{what: "set", field: "value", value: "x", records: ids}, 422], [{what: "set", records: ids}, 422],
      [{what: "nothing", records: ids}, 400], [{what: "trash", records: ["x"]}, 400],
      [{what: "trash", query: {"where.nothing" => "1"}}, 422], [{what: "rule", rule: 99, records: ids}, 404],
      [{what: "trash", records: Array.new(2_001) { 1 }}, 400]
    ].each do |body, code|
      begin_change(**body)
      expect([body[:what], status]).to eq([body[:what], code])
    end
  end
end
