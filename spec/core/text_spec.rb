# frozen_string_literal: true

RSpec.describe Yenvo::Core::Text do
  let(:kind) { a_schema.kind("deal") }
  let(:seen) do
    facts(
      after: {"boat_length" => 13.4, "value" => 4350, "boat_owner" => 3, "survey_date" => "2026-12-03"},
      before: {"stage" => "quoted"}, linked: {3 => {"id" => 3, "title" => "Aldo <Ferrant>", "phone" => "+353 555 0147"}}
    )
  end

  def fill(source) =
    described_class.bind(source, kind, a_schema).fill(seen, rule_name: "Survey booked", today: Date.new(2026, 11, 24))

  def wrong(source)
    problems = []
    described_class.bind(source, kind, a_schema, problems:)
    problems.map(&:text)
  end

  it "fills blanks with what people read" do
    expect(fill("{{ record.title }}, {{ record.boat_length }}, {{ record.value }}, {{ record.survey_date }}")).to eq(
      "Quiet Hour, 13.4 m, €4,350, Thu 3 Dec 2026"
    )
    expect(fill("{{ record.boat_owner }} {{ record.boat_owner.phone }}")).to eq("Aldo <Ferrant> +353 555 0147")
    expect(fill("{{ event.who }} moved it from {{ before.stage }}; {{ rule }}, {{ today }}")).to eq(
      "Hollie Banner moved it from Quoted; Survey booked, Tue 24 Nov 2026"
    )
  end

  it "compares by the kept value and shows nothing for an empty one" do
    expect(
      fill(
        "{% if record.boat_length > 12 %}long{% else %}short{% endif %}[{{ record.notes }}]{{ record.surveyor | " \
        "default: 'nobody' }}"
      )
    ).to eq("long[]nobody")
  end

  it "fills simple texts as Liquid would" do
    paths = Arbitrary::RECORD_FIELDS
    for_many(300) do |chance|
      source =
        Array.new(3) { "#{chance.some(["Call ", "", "a {b} ", "ü: "])}{{ record.#{chance.some(paths)} }}" }
          .join(chance.some([" ", ", ", ""]))
      seen = chance.facts
      # A blank with a filter that changes nothing takes the long way.
      long = source.sub("}}", "| append: '' }}")
      expect(
        [source, long].map do |text|
          described_class.bind(text, kind, a_schema).fill(seen, rule_name: "r", today: Date.new(2026, 11, 24))
        end
          .uniq.size
      ).to eq(1)
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
    [
      "{% for i in (1..9) %}x{% endfor %}", "{% assign a = 1 %}", "{% include 'x' %}", "{% render 'x' %}",
      "{% tablerow i in (1..9) %}{% endtablerow %}"
    ].each { |source| expect(wrong(source)).not_to be_empty }
  end

  it "limits how far a text may grow" do
    long = facts(after: {"notes" => "x" * 19_000})
    text = described_class.bind("{{ record.notes }}{{ record.notes }}", kind, a_schema)
    expect { text.fill(long, rule_name: "", today: Date.new(2026, 11, 24)) }.to raise_error(
      Yenvo::Core::Error, /grows beyond 20,000 characters/
    )
  end

  it "shows a text for lists with its blanks named" do
    expect(
      described_class.shown("Book {{ record.boat_owner.country }} for {{ record.title | upcase }}", kind, a_schema)
    ).to eq("Book [Owner of the boat · Country] for [deal]")
  end
end

RSpec.describe Yenvo::Core::TextFilters do
  let(:kind) { a_schema.kind("deal") }
  let(:seen) do
    facts(
      after: {
        "boat_length" => 13.4, "value" => 4350, "survey_date" => "2026-12-03",
        "seen_at" => "2026-12-03T21:30:00.000000Z", "notes" => "a b c"
      }
    )
  end

  def fill(source) =
    Yenvo::Core::Text.bind(source, kind, a_schema).fill(seen, rule_name: "r", today: Date.new(2026, 11, 24))

  def wrong(source)
    problems = []
    Yenvo::Core::Text.bind(source, kind, a_schema, path: %w[do title], problems:)
    problems.map { |problem| [problem.path, problem.text] }
  end

  {
    "{{ record.value | plus: 1 }}" => "4351", "{{ record.value | minus: record.boat_length }}" => "4336.6",
    "{{ record.value | times: 2 | divided_by: 3 | round: 1 }}" => "2900", "{{ record.boat_length | round }}" => "13",
    "{{ record.value | at_most: 1000 }}" => "1000", "{{ record.survey_date | date: '%-d %B' }}" => "3 December",
    "{{ record.seen_at | date: '%H:%M' }}" => "21:30", "{{ today | date: '%Y' }}" => "2026",
    "{{ event.at | date: '%F' }}" => "2026-11-24",
    "{{ record.title | upcase | append: '!' | replace: 'QUIET', 'Loud' | remove: '!' }}" => "Loud HOUR",
    "{{ record.title | truncate: 6 }}" => "Quiet…", "{{ record.notes | truncatewords: 2 }}" => "a b…",
    "{{ record.survey_type | default: 'none' | capitalize }}" => "None", "{{ record.deposit | plus: 5 }}" => "5",
    "{{ record.title | size }}" => "10", "{{ record.value | minus: 5000 | abs }}" => "650"
  }.each { |source, text| it("fills #{source} with #{text}") { expect(fill(source)).to eq(text) } }

  it "names a filter that there is not, or is misused, with its place" do
    expect(wrong("{{ record.title | shout }}")).to match(
      [[%w[do title], /must send a blank through known filters \(abs, append, .*\); there is no "shout"/]]
    )
    expect(wrong("{% if record.value %}{{ record.title | strip_html }}{% endif %}")).to match(
      [[anything, /no "strip_html"/]]
    )
    expect(wrong("{{ record.title | replace: 'a' }}")).to match([[anything, /the filter replace 2 values/]])
    expect(wrong("{{ today | date: '%99999999d' }}")).to match([[anything, /a date's format has letters/]])
  end

  it "says when a choice is compared by what it shows as instead of by its key" do
    expect(wrong("{% if record.survey_type == 'Insurance' %}x{% endif %}")).to match(
      [
        [
          anything,
          /must compare Survey type by its key, "insurance" \(pre_purchase, insurance, damage\); "Insurance" is none/
        ]
      ]
    )
    expect(
      wrong("{% if record.value > 5 %}{% unless 'Ireland' != record.boat_owner.country %}x{% endunless %}{% endif %}")
    ).to match([[anything, /by its key, "ireland"/]])
    expect(
      wrong("{% case record.survey_type %}{% when 'Damage' %}x{% when 'insurance' %}y{% else %}z{% endcase %}")
    ).to match([[anything, /by its key, "damage"/]])
    expect(
      wrong(
        "{% if record.survey_type == 'insurance' and before.stage != 'quoted' %}x{% elsif record.title == " \
        "'Insurance' %}y{% endif %}"
      )
    ).to be_empty
  end

  it "says what a filter cannot take" do
    expect { fill("{{ record.title | plus: 1 }}") }.to raise_error(
      Yenvo::Core::Error, /a number is needed; "Quiet Hour" is none/
    )
    expect { fill("{{ record.title | date: '%Y' }}") }.to raise_error(Yenvo::Core::Error, /date needs a date/)
    expect { fill("{{ record.value | divided_by: 0 }}") }.to raise_error(Yenvo::Core::Error, /divided by 0/)
    expect { fill("{{ record.value | times: 999999999999 }}") }.to raise_error(
      Yenvo::Core::Error, /beyond 1,000,000,000,000/
    )
  end

  it "counts characters, not bytes" do
    long = facts(after: {"notes" => "ü" * 12_000})
    text = Yenvo::Core::Text.bind("{{ record.notes }}", kind, a_schema)
    expect(text.fill(long, rule_name: "", today: Date.new(2026, 11, 24)).size).to eq(12_000)
    filtered = Yenvo::Core::Text.bind("{{ record.notes | append: 'x' }}", kind, a_schema)
    expect(filtered.fill(long, rule_name: "", today: Date.new(2026, 11, 24)).size).to eq(12_001)
  end
end
