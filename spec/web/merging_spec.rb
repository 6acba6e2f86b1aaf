# frozen_string_literal: true

RSpec.describe "Merging over the API" do
  include MarkedHouse

  let(:ids) do
    [
      make("contact", {"title" => "Aldo Renn", "email" => "aldo@sea.example", "owner" => "hollie"})["id"],
      make("contact", {"title" => "Renn Aldo", "phone" => "+353 1 234567", "owner" => "hollie"})["id"]
    ]
  end

  def merge(records = ids, **choices) = call(:post, "/api/merges", {records:, choices:})

  it "finds them, plans, merges and parts" do
    deal = make("deal", {"title" => "Quiet Hour", "boat_owner" => ids[1]})["id"]
    sign_in("hollie")
    group = get_json("/api/duplicates?kind=contact")["groups"][0]
    expect([group["why"], group["records"].map { |one| one["id"] }]).to eq(["the same words in the title", ids])
    plan = get_json("/api/merges/plan?records=#{ids.join(",")}")
    expect(plan["records"].map { |one| one["title"] }).to eq(["Aldo Renn", "Renn Aldo"])
    expect(plan["rows"].to_h { |row| [row["field"], row.values_at("choice", "differs")] }).to include(
      "title" => [ids[0], true], "email" => [ids[0], false], "phone" => [ids[1], false]
    )
    expect(plan["along"]).to include("links" => 1, "notes" => 0)
    merged = merge(title: ids[1])
    expect([status, merged.slice("id", "title")]).to eq([201, {"id" => ids[0], "title" => "Renn Aldo"}])
    expect(get_json("/api/records/#{deal}")["record"]["values"]["boat_owner"]).to eq(ids[0])
    expect(get_json("/api/merges?record=#{ids[1]}")).to eq(
      "merges" => [], "became" => {"id" => ids[0], "title" => "Renn Aldo"}
    )
    open = get_json("/api/merges?record=#{ids[0]}")["merges"]
    expect(open).to match([include("titles" => ["Renn Aldo"], "by" => "hollie")])
    expect(call(:delete, "/api/merges/#{open[0]["id"]}")).to include("title" => "Aldo Renn")
    call(:delete, "/api/merges/#{open[0]["id"]}")
    expect(status).to eq(422)
    expect(get_json("/api/records/#{deal}")["record"]["values"]["boat_owner"]).to eq(ids[1])
    expect(call(:post, "/api/duplicates", {records: ids})).to eq("put_away" => true)
    expect(get_json("/api/duplicates?kind=contact")).to eq("groups" => [], "next" => nil)
  end

  it "is for who may change the one and take the others away, and shows nothing that is hidden" do
    merge
    expect(status).to eq(401)
    let_see("contact", "everyone", changed: "owner", taken: "owner")
    sign_in("osk")
    merge
    expect(status).to eq(403)
    call(:post, "/api/duplicates", {records: ids})
    expect(status).to eq(403)
    sign_in("maren")
    merge
    expect(status).to eq(201)
    sign_in("osk")
    call(:delete, "/api/merges/#{db[:merges].get(:id)}")
    expect(status).to eq(403)
    let_see("contact", "owner")
    expect(get_json("/api/merges?record=#{ids[1]}")).to eq("merges" => [], "became" => nil)
    expect(get_json("/api/merges?record=#{ids[0]}")["merges"]).to eq([])
    [[:delete, "/api/merges/#{db[:merges].get(:id)}"], [:get, "/api/merges/plan?records=#{ids.join(",")}"],
      [:delete, "/api/merges/999999"], [:get, "/api/duplicates?kind=boat"]].each do |method, path|
      call(method, path)
      expect(status).to eq(404)
    end
  end

  it "keeps what fields say that whoever merges does not see" do
    change(ids[1], {"club" => "North"})
    let_see("contact", "everyone", kept: ["club"])
    sign_in("callum")
    seen = get_json("/api/records/#{ids[1]}")["record"]["values"].key?("club")
    plan = get_json("/api/merges/plan?records=#{ids.join(",")}")
    expect(plan["rows"].any? { |row| row["field"] == "club" }).to eq(seen)
    merge(club: ids[0]) unless seen
    expect(status).to eq(422) unless seen
    merge
    expect(root.records.find!(ids[0])["club"]).to eq("North")
  end

  it "answers what is no merge with a sentence" do
    deal = make("deal", {"title" => "Quiet Hour"})["id"]
    sign_in("maren")
    {[ids[0], deal] => /one kind/, [ids[0], ids[0]] => /from two to 10/}.each do |records, words|
      expect([merge(records)["error"], status]).to match([words, 422])
    end
    [["x", 422], [ids.first.to_s, 422], ["#{ids[0]},#{deal}", 422], ["#{ids[0]},999999", 404]].each do |records, code|
      get_json("/api/merges/plan?records=#{records}")
      expect([status, code]).to eq([code, code])
    end
    merge([1])
    expect(status).to eq(400)
    expect(merge(title: "together")["error"]).to match(/one value/)
  end
end
