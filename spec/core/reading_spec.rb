# frozen_string_literal: true

RSpec.describe Yenvo::Core::Reading do
  def read(type, value, **more) = described_class.value(field("x", "Boat length", type, **more), value, a_schema)

  it "reads what people type into the plain form" do
    expect(
      [
        read("number", " 9.1 "), read("number", "1,200"), read("money", "€4,350"), read("money", 12.5),
        read("text", "  Quiet \n Hour "), read("date", "2028-02-29"), read("yes_no", "Yes"), read("link", "12")
      ]
    ).to eq([9.1, 1200, 4350, 12.5, "Quiet Hour", "2028-02-29", true, 12])
    expect(read("choice", "Ireland", choices: [%w[ireland Ireland]])).to eq("ireland")
    expect(read("person", "hollie banner")).to eq("hollie")
    expect(read("datetime", "2026-07-03T09:00:00+01:00")).to eq("2026-07-03T08:00:00.000000Z")
    expect(read("datetime", "2026-07-03")).to eq("2026-07-02T23:00:00.000000Z")
    expect(read("datetime", "2026-07-03T09:00")).to eq("2026-07-03T08:00:00.000000Z")
  end

  it "takes blank as empty, whatever the type" do
    Yenvo::Core::Schema::TYPES.each do |type|
      expect([read(type, ""), read(type, nil), read(type, "  ")]).to eq([nil, nil, nil])
    end
  end

  {
    %w[number long] => "Boat length takes a number such as 12 or 9.1; “long” is none.",
    %w[number 1e400] => /takes a number/, ["number", "9" * 14] => /between -1,000,000,000,000/,
    %w[money 1.005] => /whole cents/,
    %w[date 2026-02-31] => "Boat length: 2026-02-31 is not a day of the calendar. Choose another.",
    %w[date tomorrow] => /takes a date such as 2026-12-03/, %w[date 0026-02-01] => /year between 1900 and 2200/,
    %w[datetime noon] => /date with time/, %w[choice sail] => /takes one of/, %w[person nobody] => /takes a person/,
    %w[link -3] => /takes a record/, %w[yes_no maybe] => /takes yes or no/,
    ["email", "hollie at home"] => /e-mail address such as/,
    ["phone", "call me"] => /phone number such as/, %w[url javascript:alert(1)] => /begins with https/,
    ["text", "a\u0000b"] => /cannot be kept/,
    ["text", ["a"]] => /takes a text/,
    ["long_text", "x" * 1_000_000] => "Boat length takes at most 20,000 characters; this has 1,000,000. Shorten it."
  }.each do |(type, value), sentence|
    it "refuses #{value.inspect[0, 30]} in a #{type} field with a sentence" do
      expect { read(type, value) }.to raise_error(Yenvo::Core::Unreadable) { |error|
        expect(error.message).to match(sentence.is_a?(Regexp) ? sentence : /\A#{Regexp.escape(sentence)}\z/)
      }
    end
  end
end

RSpec.describe Yenvo::Core::Show do
  it "shows values as people read them" do
    schema = a_schema
    show = ->(type, value, **more) do
      described_class.value(field("x", "X", type, **more), value, schema, {3 => "Aldo"})
    end
    expect(
      [
        show.call("money", 4350, unit: "€"), show.call("money", 1_234_567.5), show.call("number", 9.1, unit: "m"),
        show.call("number", 12.0), show.call("date", "2026-12-03"),
        show.call("datetime", "2026-07-03T08:00:00.000000Z"), show.call("yes_no", false), show.call("link", 3),
        show.call("link", 4), show.call("person", "hollie"), show.call("text", nil),
        show.call("choices", %w[a b], choices: [%w[a A], %w[b B]])
      ]
    ).to eq(
      [
        "€4,350", "€1,234,567.50", "9.1 m", "12", "Thu 3 Dec 2026", "Fri 3 Jul 2026 09:00", "no", "Aldo", "record 4",
        "Hollie Banner", "empty", "A, B"
      ]
    )
  end
end

RSpec.describe "Numbers and dates as people type them" do
  def read(type, value, form: "point", **more)
    Yenvo::Core::Reading.value(field("f", "Price", type, **more), value, a_schema(number_form: form))
  rescue Yenvo::Core::Unreadable => error
    error.message
  end

  {
    "499.99" => 499.99, "1,250.50" => 1250.5, "1 250.50" => 1250.5, "1\u202F250" => 1250, "500 €" => 500, "€500" => 500,
    "€ 1,000" => 1000, "-3" => -3, "1'000" => 1000, "1,250" => 1250, "0.5" => 0.5
  }.each do |typed, number|
    it("takes #{typed} for #{number} where a point is written") { expect(read("money", typed)).to eq(number) }
  end

  {"499,99" => 499.99, "1.250,50" => 1250.5, "1.250" => 1250, "500 €" => 500, "12" => 12}.each do |typed, number|
    it("takes #{typed} for #{number} where a comma is written") do
      expect(read("money", typed, form: "comma")).to eq(number)
    end
  end

  it "does not guess at what could be meant in two ways, and says how to write it" do
    expect(read("money", "499,99")).to eq(
      'Price: Write 499.99: the house writes a point, and "499,99" could be meant in two ways.'
    )
    expect(read("money", "1.250,50")).to include("Write 1250.5: the house writes a point")
    expect(read("money", "499.99", form: "comma")).to include("Write 499,99: the house writes a comma")
    expect(
      [read("number", "12,5,3"), read("number", "1e5"), read("number", "twelve"), read("number", "9" * 50)]
    ).to all(match(/takes a number/))
  end

  it "takes a unit behind a number, and dates with points, day first" do
    expect(read("number", "9.1 m", unit: "m")).to eq(9.1)
    expect([read("date", "31.12.2026"), read("date", "1.2.2026"), read("date", "3. 12. 2026")]).to eq(
      %w[2026-12-31 2026-02-01 2026-12-03]
    )
    expect([read("date", "32.12.2026"), read("date", "12/31/2026")]).to match(
      [/not a day of the calendar/, /takes a date such as/]
    )
  end
end
