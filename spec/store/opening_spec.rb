# frozen_string_literal: true

RSpec.describe "Opening a house" do
  let(:now) { Database::NOW }
  let(:opening) { root.opening }
  let(:given) { Houses.opening }

  before { Houses.empty(root) }

  it "makes its kinds, calendar, queue and first administrator, with which work can begin" do
    code = opening.new_code(now:)
    expect(opening.open_with(code, given, now:)).to eq("liga_ozola")
    expect(root.setup_store.house_name).to eq("Ozola pianos")
    expect(root.schema.kinds.transform_values { |kind| kind.own_fields.map(&:key) }).to eq(
      "contact" => %w[phone email company adviser], "deal" => %w[value contact expected_on],
      "ticket" => %w[contact deal severity due found]
    )
    expect(root.schema.kinds.values.map { |kind| kind.stages.size }).to all(be > 1)
    expect(root.schema.kind("deal").field("value").unit).to eq("€")
    expect(root.schema.queues).to eq("anyone" => "For anyone")
    expect(root.people.all).to match([hash_including(role: "administrator", team: "everyone", active: true)])
    calendar = root.calendar
    expect(calendar.zone.name).to eq("Europe/Riga")
    # 4 December 2026 is a Friday; its hours are shorter. 18 November is a public holiday of Latvia.
    expect(calendar.span(Date.new(2026, 12, 4))).to eq([Time.utc(2026, 12, 4, 6), Time.utc(2026, 12, 4, 12)])
    expect(calendar.working_day?(Date.new(2026, 12, 5))).to be(false)
    expect(calendar.working_day?(Date.new(2026, 11, 18))).to be(false)
    made = root.records.make("deal", {"title" => "Upright", "value" => 900}, cause: cause("liga_ozola"))
    expect(root.records.find!(made["id"])["stage"]).to eq("asked")
  end

  it "takes a code once, the newest alone, and for an hour" do
    older, code = Array.new(2) { opening.new_code(now:) }
    refused = ->(given_code, at = now) {
      expect { opening.open_with(given_code, given, now: at) }.to raise_error(
        Yenvo::Store::Refused, /code does not open the house/
      )
    }
    refused.call(older)
    refused.call("")
    refused.call(code.downcase.reverse)
    refused.call(code, now + 3_601)
    opening.open_with(code, given, now: now + 3_590)
    [-> { opening.open_with(code, given, now:) }, -> { opening.open_house(given, now:) }, -> { opening.new_code(now:) }]
      .each { |again| expect(&again).to raise_error(Yenvo::Store::Conflict, /opened already/) }
    expect(db[:people].count).to eq(1)
  end

  it "takes no code any more after fifty wrong ones" do
    code = opening.new_code(now:)
    50.times { expect { opening.open_with("x" * 24, given, now:) }.to raise_error(Yenvo::Store::Refused) }
    expect { opening.open_with(code, given, now:) }.to raise_error(Yenvo::Store::Refused)
    opening.open_with(opening.new_code(now:), given, now:)
  end

  it "refuses what does not fit, each with a sentence, and the code stays good" do
    code = opening.new_code(now:)
    {
      {"name" => " "} => ["name", /takes a few words/],
      {"zone" => "Europe/Rīga"} => ["zone", /no time zone/],
      {"zone" => "x" * 500} => ["zone", /no time zone/],
      {"hours" => []} => ["hours", /at least one day/],
      {"hours" => [{"day" => 1, "from" => "17:00", "to" => "09:00"}]} => ["hours", /Monday must end after it begins/],
      {"hours" => [{"day" => 1, "from" => "9", "to" => "17:00"}]} => ["hours", /two times such as/],
      {"hours" => [{"day" => 8, "from" => "09:00", "to" => "17:00"}]} => ["hours", /1 \(Monday\) to 7/],
      {"hours" => [given["hours"][0]] * 2} => ["hours", /stands once/],
      {"holidays" => "ups"} => ["holidays", /are not known/],
      {"currency" => "XAU"} => ["currency", /no currency/],
      {"person" => given["person"].merge("email" => "liga")} => ["person.email", /takes an address/],
      {"person" => given["person"].merge("password" => "short one")} => ["person.password", /at least 10/],
      {"person" => given["person"].merge("password" => "harbour lights")} => ["person.password", /guessed first/],
      {"person" => given["person"].merge("password" => "1234567890")} => ["person.password", /guessed first/],
      {"person" => given["person"].merge("password" => "LIGA@pianos.example")} => ["person.password", /must not be the/]
    }.each do |change, (place, sentence)|
      expect { opening.open_with(code, given.merge(change), now:) }.to raise_error(Yenvo::Store::Refused) { |error|
        expect(error.fields).to match(place => sentence)
      }
    end
    expect(db[:people]).to be_empty
    expect(db[:kinds]).to be_empty
    opening.open_with(code, given, now:)
  end

  it "happens once, when several do it at the same time" do
    url = Database.make_migrated(Database.name("opening"))
    roots = Array.new(4) { Yenvo::Store::Root.open(url, connections: 1) }
    code = roots[0].opening.new_code(now:)
    results =
      roots.map { |one|
        Thread.new do
          one.opening.open_with(code, given, now:)
        rescue Yenvo::Store::Refused, Yenvo::Store::Conflict => error
          error.message
        end
      }.map(&:value)
    expect(results.count("liga_ozola")).to eq(1)
    expect(results - ["liga_ozola"]).to all(match(/opened already|does not open/))
    expect(roots[0].db[:people].count).to eq(1)
    expect(roots[0].db[:kinds].count).to eq(3)
  ensure
    roots.each { |one| one.db.disconnect }
  end
end
