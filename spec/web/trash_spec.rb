# frozen_string_literal: true

RSpec.describe "The trash over the API" do
  include MarkedHouse

  def away(id) = call(:delete, "/api/records/#{id}")

  it "shows what was taken away, page by page, and gives it back" do
    ids = Array.new(55) { |n| make("contact", {"title" => "Owner #{n}"})["id"] }
    sign_in("hollie")
    ids.each { |id| away(id) }
    first = get_json("/api/trash")
    expect([first["rows"].size, first["more"], first["rows"][0]["id"]]).to eq([50, true, ids.last])
    last = first["rows"].last
    second = get_json("/api/trash?at=#{last["at"]}&id=#{last["id"]}")
    expect([second["rows"].map { |row| row["id"] }, second["more"]]).to eq([ids.first(5).reverse, false])
    expect(call(:post, "/api/records/#{ids[0]}/trash")).to include("title" => "Owner 0")
    call(:post, "/api/records/#{ids[0]}/trash")
    expect(status).to eq(404)
    away(ids[1])
    expect(status).to eq(404)
    get_json("/api/trash?at=never&id=1")
    expect(status).to eq(422)
  end

  it "is for those whom the kind names, and shows nothing that is hidden" do
    id = make("deal", {"title" => "Quiet Hour", "owner" => "callum"})["id"]
    let_see("deal", "everyone", taken: "owner")
    sign_in("osk")
    away(id)
    expect(status).to eq(403)
    sign_in("maren")
    away(id)
    expect(status).to eq(200)
    sign_in("osk")
    expect(get_json("/api/trash")["rows"].map { |row| row["may_bring_back"] }).to eq([false])
    call(:post, "/api/records/#{id}/trash")
    expect(status).to eq(403)
    let_see("deal", "owner")
    expect(get_json("/api/trash")["rows"]).to eq([])
    call(:post, "/api/records/#{id}/trash")
    expect(status).to eq(404)
  end

  it "is erased for good by administrators alone, who are told what goes" do
    id = make("contact", {"title" => "Zadok Reed", "email" => "zadok@sea.example"})["id"]
    deal = make("deal", {"title" => "Quiet Hour", "boat_owner" => id})["id"]
    call(:delete, "/api/trash/#{id}")
    expect(status).to eq(401)
    sign_in("hollie")
    call(:post, "/api/tasks", {title: "Ring", record_id: id})
    away(id)
    %i[get delete].each do |method|
      call(method, "/api/trash/#{id}")
      expect([status, last_response.body]).to match([403, /erased for good by administrators, and you are signed in/])
    end
    sign_in("maren")
    expect(get_json("/api/trash/#{id}")).to eq(
      "title" => "Zadok Reed", "notes" => 0, "files" => 0, "tasks" => 1, "messages" => 0, "lists" => 0, "linked" => 1
    )
    expect(call(:delete, "/api/trash/#{id}")).to eq("erasing" => true)
    expect([status, get_json("/api/trash")["rows"]]).to eq([202, []])
    [[:delete, "/api/trash/#{id}"], [:get, "/api/trash/#{id}"], [:post, "/api/records/#{id}/trash"],
      [:get, "/api/records/#{id}/trash"], [:delete, "/api/trash/99999"]].each do |method, path|
      call(method, path)
      expect(status).to eq(404)
    end
    expect(root.erasing.some(now: Database::NOW + 60)).to eq(1)
    expect(get_json("/api/records/#{deal}")["record"]["shown"]["boat_owner"]).to eq("a record that is gone")
    told = get_json("/api/audit?what=erased")["rows"]
    expect(told).to match([include("words" => "erased the contact #{id} for good")])
    expect(get_json("/api/records/#{deal}").to_json).not_to include("Zadok")
    get_json("/api/trail?record=#{id}&result=all")
    expect(status).to be < 500
  end

  it "is told in the names of links, but not of what is hidden" do
    aldo = make("contact", {"title" => "Aldo", "owner" => "callum"})["id"]
    deal = make("deal", {"title" => "Quiet Hour", "boat_owner" => aldo, "owner" => "osk"})["id"]
    sign_in("maren")
    away(aldo)
    expect(get_json("/api/records/#{deal}")["record"]["shown"]["boat_owner"]).to eq("Aldo (in the trash)")
    let_see("contact", "owner")
    sign_in("osk")
    expect(get_json("/api/records/#{deal}")["record"]["shown"]["boat_owner"]).to eq("a record that is gone")
    sign_in("maren")
    call(:patch, "/api/records/#{deal}", {values: {value: 5}, version: 1})
    expect(status).to eq(200)
  end
end
