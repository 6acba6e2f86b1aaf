# frozen_string_literal: true

require "tmpdir"
require_relative "../../demo/load"

# The kept story, put back and lived on to the moment of loading, in a database of its own.
RSpec.describe "The demo's story", :committed, :slow do
  def loaded(now)
    url = Database.make_empty(Database.name("demo"))
    Dir.mktmpdir do |folder|
      house = Yenvo::Store::Root.open(url, connections: 2)
      house.files = folder
      house.migrate
      Demo.load(house, now:)
      yield house
    ensure
      house&.db&.disconnect
    end
  end

  it "was made from the demo and the tables as they are" do
    expect(Demo::Kept.fits?).to be(true), "The demo or a table has changed since its story was kept. Live it again " \
      "into an empty database: bin/yenvo demo --anew"
  end

  [Time.utc(2026, 12, 2, 11), Time.utc(2028, 7, 9, 16)].each do |now|
    it "ends at #{now}, with all that is laid out around that day" do
      loaded(now) do |house|
        db = house.db
        today = house.calendar.zone.date_of(now)
        expect(db[:records].group_and_count(:kind).as_hash(:kind, :count)).to include(
          "contact" => 242, "deal" => be_between(180, 190), "ticket" => be >= 150
        )
        expect([db[:waiting], db[:runs].where(state: "failed"), db[:journal].where { at > now }].map(&:count)).to eq(
          [0, 0, 0]
        )
        expect(db[:runs].max(:at)).to be_between(now - (4 * 86_400), now)
        expect(db[:journal].order(:id).select_map(:at).each_cons(2).count { |one, other| other < one - 60 }).to be < 20
        expect(db[:tasks].where(open: true, due_on: today).count).to be >= 4
        expect(db[:tasks].where(open: true).where { due_on < today }.count).to be >= 4
        expect(db[:tasks].exclude(due_on: nil).select_map(:due_on).minmax).to match(
          [be > today - 260, be < today + 400]
        )
        expect(house.calendar.off_because(Date.new(today.year, 12, 28))).to eq("Yard shut")
        # Papers of rules are yet to be printed.
        papers, files = db[:attachments].all.partition { |row| row[:file].nil? }
        expect(papers.map { |row| row[:id] }).to match_array(db[:fillings].select_map(:attachment_id)).and(be_any)
        files.each do |row|
          expect(File.size(File.join(house.files, row[:file][0, 2], row[:file]))).to eq(row[:size])
        end
      end
    end
  end

  it "keeps the same time of the wall clock when it moves over a change of the clock" do
    zone = Yenvo::Core::Zone.new("Europe/Dublin")
    dates = Demo::Dates.new(zone, 30)
    {
      "at 2026-11-24T09:00:00.000000Z" => "at 2027-06-22T08:00:00.000000Z", "2026-11-24" => "2027-06-22",
      "2026-11-24t09:00:00z" => "2027-06-22t08:00:00z",
      "Due is set to Tue 24 Nov 2026." => "Due is set to Tue 22 Jun 2027.", "+353 555 0100" => "+353 555 0100",
      "2026-13-45 and 12026-11-24" => "2026-13-45 and 12026-11-24"
    }.each { |text, moved| expect(dates.move(text)).to eq(moved) }
    expect(Demo::Dates.new(zone, -3).move("Tue 24 Nov 2026, 2026-11-24")).to eq("Tue 3 Nov 2026, 2026-11-03")
  end
end
