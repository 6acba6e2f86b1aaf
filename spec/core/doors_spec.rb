# frozen_string_literal: true

RSpec.describe Yenvo::Core::DoorMapReader do
  let(:kind) { a_schema.kind("deal") }

  def plain(rows = [{"field" => "title", "path" => "data.name"}], **more)
    {"how" => "make", "rows" => rows, **more.transform_keys(&:to_s)}
  end

  def problems(...) = described_class.read(plain(...), kind, a_schema)[1].map { |one| "#{one.where} #{one.text}" }

  def read(message, *rows, kind: self.kind)
    map, = described_class.read(plain(rows), kind, a_schema)
    map.read(message, a_schema)
  end

  def value(given, field, kind: self.kind, **row)
    row = {"field" => field, "path" => "data.x", **row.transform_keys(&:to_s)}
    values, wrong = read({"data" => {"x" => given}}, row, kind:)
    values.fetch(field) { wrong[field] }
  end

  it "says all that is wrong with it, and where" do
    title = {"field" => "title", "path" => "data.name"}
    {
      [[]] => /rows must fill in something/, [[{"field" => "no", "path" => "a"}]] => /rows\[1\].field must be a field/,
      [[{"field" => "made", "path" => "a"}]] => /Made is kept by Yenvo/,
      [[title, title]] => /rows\[2\].field must be filled/,
      [[{**title, "path" => "a b"}]] => /rows\[1\].path must be names with dots/,
      [[{"field" => "title"}]] => /rows\[1\].path must say where it stands, or what it always is/,
      [[title, {"field" => "value", "value" => "much"}]] => /rows\[2\].value must be of use: Value takes a number/,
      [[title, {"field" => "stage", "path" => "a", "choices" => {"x" => "sunk"}}]] => /must lead to choices of Stage/,
      [[title, {"field" => "boat_owner", "path" => "a", "by" => "adviser"}]] => /rows\[2\].by must be a field by which/,
      [[title, {"field" => "survey_date", "path" => "a", "form" => "roman"}]] => /form must be a way to write dates/,
      [[{"field" => "value", "path" => "a"}]] => /rows must fill in Title, which every deal has to have/
    }.each { |args, sentence| expect(problems(*args)).to include(sentence), args.inspect }
    expect(problems(how: "all")).to include(/how must be one of make, change, both/)
    expect(problems(how: "change")).to include(/key must be a field by which one deal is found/)
    expect(problems(how: "both", key: "value")).to include(/key must be a field/)
    rows = [{"field" => "value", "path" => "a"}, title]
    expect([problems, problems(rows, how: "change", key: "title")]).to eq([[], []])
  end

  it "finds what stands at a path, in lists too" do
    message = {"id" => "7", "data" => {"lines" => [{"price" => 5}], "name" => "Petrel"}}
    rows = [{"field" => "title", "path" => "data.name"}, {"field" => "value", "path" => "data.lines.0.price"}]
    expect(read(message, *rows)).to eq([{"title" => "Petrel", "value" => 5}, {}])
    expect(read({"data" => "text"}, *rows)).to eq([{}, {}])
    expect(read({"id" => "7", "data" => nil}, {"field" => "title", "path" => "id"})[0]).to eq("title" => "7")
  end

  it "takes what always is, and a default for what is missing" do
    rows = [{"field" => "title", "value" => "Word"}, {"field" => "value", "path" => "data.x", "otherwise" => "12"}]
    expect(read({"data" => {}}, *rows)[0]).to eq("title" => "Word", "value" => 12)
    expect(read({"data" => {"x" => 0}}, *rows)[0]).to eq("title" => "Word", "value" => 0)
    expect(read({"data" => {"x" => ""}}, *rows)[0]["value"]).to eq(12)
  end

  it "turns dates, however they are written" do
    {
      ["2026-12-03", "iso"] => "2026-12-03", ["2026-12-03T23:30:00Z", "iso"] => "2026-12-03",
      ["2026-07-03T23:30:00Z", "iso"] => "2026-07-04", ["3.12.2026", "day_first"] => "2026-12-03",
      ["12/3/2026", "month_first"] => "2026-12-03", [1_796_255_999, "unix"] => "2026-12-02",
      ["1796256000", "unix"] => "2026-12-03"
    }.each { |(given, form), date| expect(value(given, "survey_date", form:)).to eq(date) }
    expect(value("31.31.2026", "survey_date", form: "day_first")).to match(/not a day of the calendar/)
    expect(value("soon", "survey_date")).to match(/takes a date/)
  end

  it "turns choices, persons, numbers and links" do
    expect(value("Survey booked", "stage")).to eq("survey_booked")
    expect(value("won", "stage", choices: {"won" => "accepted"})).to eq("accepted")
    expect(value("sunk", "stage")).to eq('Stage has no choice "sunk"; say in the table which it is.')
    expect(value("callum@yard.example", "owner")).to eq("callum")
    expect(value("nobody@yard.example", "owner")).to match(/takes a person/)
    expect([value("12.5", "value"), value(7, "value"), value("much", "value")]).to match([12.5, 7, /takes a number/])
    expect(value("a@sea.example", "boat_owner", by: "email")).to have_attributes(by: "email", value: "a@sea.example")
    expect(value({"a" => 1}, "title")).to eq("Title takes one value; at data.x stand several.")
    expect(value(5, "title")).to eq("5")
  end

  it "asks for the field by which a record is found" do
    map, = described_class.read(plain(how: "change", key: "title"), kind, a_schema)
    expect(map.read({"data" => {}}, a_schema)).to eq([{}, {"title" => "Title is missing, by which the deal is found."}])
  end

  it "keeps to what it says for whatever comes in" do
    keys = kind.fields.values.reject(&:worked_out?).map(&:key)
    rows = keys.map { |key| {"field" => key, "path" => "data.#{key}"} }
    map, = described_class.read(plain(rows), kind, a_schema)
    random = Random.new(7)
    junk = [nil, "", "x", -1, 1.5, true, [], [1, "a"], {"a" => {}}, "2026-01-01", "é" * 600, "1e999", "9" * 40]
    200.times do
      data = kind.fields.keys.to_h { |key| [key, junk.sample(random:)] }
      values, wrong = map.read({"data" => data}, a_schema)
      expect(values.keys & wrong.keys).to eq([])
      expect(wrong.values).to all(be_a(String))
    end
  end
end
