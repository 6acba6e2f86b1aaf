# frozen_string_literal: true

RSpec.describe Yenvo::Core::Text do
  let(:kind) { a_schema.kind("deal") }
  let(:seen) { facts(after: {"boat_length" => 13.4, "value" => 4350, "boat_owner" => 3, "survey_date" => "2026-12-03"}, before: {"stage" => "quoted"}, linked: {3 => {"id" => 3, "title" => "Aldo <Ferrant>", "phone" => "+353 555 0147"}}) }

  def fill(source) = described_class.bind(source, kind, a_schema).fill(seen, rule_name: "Survey booked", today: Date.new(2026, 11, 24))

  def wrong(source)
    problems = []
    described_class.bind(source, kind, a_schema, problems: problems)
    problems.map(&:text)
  end

  it "fills blanks with what people read" do
    expect(fill("{{ record.title }}, {{ record.boat_length }}, {{ record.value }}, {{ record.survey_date }}")).to eq("Quiet Hour, 13.4 m, €4,350, Thu 3 Dec 2026")
    expect(fill("{{ record.boat_owner }} {{ record.boat_owner.phone }}")).to eq("Aldo <Ferrant> +353 555 0147")
    expect(fill("{{ event.who }} moved it from {{ before.stage }}; {{ rule }}, {{ today }}")).to eq("Hollie Banner moved it from Quoted; Survey booked, Tue 24 Nov 2026")
  end

  it "compares by the kept value and shows nothing for an empty one" do
    expect(fill("{% if record.boat_length > 12 %}long{% else %}short{% endif %}[{{ record.notes }}]{{ record.surveyor | default: 'nobody' }}")).to eq("long[]nobody")
  end

  it "fills simple texts as Liquid would" do
    paths = Arbitrary::RECORD_FIELDS
    for_many(300) do |chance|
      source = Array.new(3) { "#{chance.some(["Call ", "", "a {b} ", "ü: "])}{{ record.#{chance.some(paths)} }}" }.join(chance.some([" ", ", ", ""]))
      seen = chance.facts
      # A blank with a filter that changes nothing takes the long way.
      long = source.sub("}}", "| append: '' }}")
      expect([source, long].map { |text| described_class.bind(text, kind, a_schema).fill(seen, rule_name: "r", today: Date.new(2026, 11, 24)) }.uniq.size).to eq(1)
    end
  end

  it "names what a blank cannot be" do
    expect(wrong("{{ record.titel }}")).to match([/there is no "titel", the nearest is "title"/])
    expect(wrong("{{ secrets }}")).to match([/must begin with record, before, event, task, today, rule/])
    expect(wrong("{{ record.boat_owner.country.name }}").size).to eq(1)
    expect(wrong("{{ record.title ")).to match([/blanks are whole/])
    expect(wrong("x" * 5_000)).to match([/at most 4,000 characters/])
  end

  it "takes no loops, no assignments and no files" do
    ["{% for i in (1..9) %}x{% endfor %}", "{% assign a = 1 %}", "{% include 'x' %}", "{% render 'x' %}", "{% tablerow i in (1..9) %}{% endtablerow %}"].each { |source| expect(wrong(source)).not_to be_empty }
  end

  it "limits how far a text may grow" do
    long = facts(after: {"notes" => "x" * 19_000})
    text = described_class.bind("{{ record.notes }}{{ record.notes }}", kind, a_schema)
    expect { text.fill(long, rule_name: "", today: Date.new(2026, 11, 24)) }.to raise_error(Yenvo::Core::Error, /grows beyond 20,000 characters/)
  end

  it "shows a text for lists with its blanks named" do
    expect(described_class.shown("Book {{ record.boat_owner.country }} for {{ record.title | upcase }}", kind, a_schema)).to eq("Book [Owner of the boat · Country] for [deal]")
  end
end
