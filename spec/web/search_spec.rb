# frozen_string_literal: true

RSpec.describe "One search over the API" do
  include MarkedHouse

  def sorts(query) = get_json("/api/search?#{query}")["sorts"].to_h { |one| [one["sort"], one] }

  it "gives some of each sort, and all of one page by page" do
    deal = make("deal", {"title" => "Quiet Hour", "stage" => "quoted"})["id"]
    25.times { |n| root.interactions.log(deal, "note", "Varnish #{n}", cause: cause) }
    sign_in("hollie")
    expect(sorts("text=quiet")["records"]["found"]).to eq(
      [{"id" => deal.to_s, "record" => nil, "title" => "Quiet Hour", "why" => "Title", "kind" => "Deal",
        "state" => "Quoted"}]
    )
    few = sorts("text=varnish")["notes"]
    expect([few["found"].size, few["next"]]).to match([4, String])
    first = sorts("text=varnish&only=notes")["notes"]
    second = sorts("text=varnish&only=notes&after=#{first["next"]}")["notes"]
    expect([first, second].map { |one| [one["found"].size, one["next"].nil?] }).to eq([[20, false], [5, true]])
    expect((first["found"] + second["found"]).map { |one| one["id"] }.uniq.size).to eq(25)
    expect(first["found"][0]).to include("record" => deal, "title" => "Quiet Hour", "kind" => "Deal")
    expect(sorts("text=maren")["people"]["found"].map { |one| one["id"] }).to eq(["maren"])
  end

  it "says while what was there before is still being indexed" do
    sign_in("hollie")
    expect(get_json("/api/search?text=a")["indexing"]).to be(false)
    root.jobs.begin_for_house("index_words", "Words", 3, {}, cause)
    expect(get_json("/api/search?text=a")["indexing"]).to be(true)
  end

  it "is for who is signed in, and takes anything as a question" do
    get_json("/api/search?text=a")
    expect(status).to eq(401)
    sign_in("osk")
    ["%25", "'", "%F0%9F%9A%A2", "a" * 200, "+-*", "%5C%5C", "~", "a%20" * 60].each do |text|
      get_json("/api/search?text=#{text}")
      expect([text, status]).to eq([text, 200])
    end
    [["text=a&only=boats", 400], ["only=notes", 400], ["text=#{"a" * 201}", 400]].each do |query, code|
      get_json("/api/search?#{query}")
      expect([query, [code, 422].include?(status)]).to eq([query, true])
    end
  end
end
