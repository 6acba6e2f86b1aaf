# frozen_string_literal: true

RSpec.describe Yenvo::Core::Access do
  def person(key, role, *teams) =
    Yenvo::Core::Schema::Person.new(key:, name: key.capitalize, active: true, role:, teams:, team: teams.first)

  let(:people) do
    [
      person("ada", "administrator", "desk"), person("lea", "lead", "desk", "dock"), person("mo", "member", "desk"),
      person("una", "member", "desk"), person("dov", "member", "dock"), person("sol", "member")
    ]
  end

  def schema(seen_by: "everyone", changed_by: "everyone", taken_away_by: "owner", kept: [])
    fields = a_schema.kind("deal").own_fields.map { |field| field.with(kept: kept.include?(field.key)) }
    deal = a_schema.kind("deal").with_fields(fields).with_access(seen_by:, changed_by:, taken_away_by:)
    others = a_schema.kinds.values.reject { |kind| kind.key == "deal" }
    Yenvo::Core::Schema.new(kinds: [deal, *others], people:)
  end

  # @return [Hash{String => Array<String>}] by person, of whom they may see the deals; "-" for nobody's
  def sight(schema, verb = :seen_by)
    people.to_h do |one|
      owners = [*people.map(&:key), nil]
      may = owners.select { |owner| schema.access(one.key).may?(verb, schema.kind("deal"), owner) }
      [one.key, may.map { |key| key || "-" }]
    end
  end

  it "lets everyone see what everyone sees, and only administrators what is theirs" do
    all = %w[ada lea mo una dov sol -]
    expect(sight(schema).values).to all(eq(all))
    expect(sight(schema(seen_by: "administrators"))).to eq(
      "ada" => all, "lea" => [], "mo" => [], "una" => [], "dov" => [], "sol" => []
    )
  end

  it "opens the records of a team to all in it, in whichever of their teams they are" do
    expect(sight(schema(seen_by: "team"))).to include(
      "lea" => %w[ada lea mo una dov -], "mo" => %w[ada lea mo una], "dov" => %w[lea dov], "sol" => %w[sol]
    )
  end

  it "opens the records of an owner to them and to leads of their teams, and nobody's to leads" do
    expect(sight(schema(seen_by: "owner"))).to include(
      "ada" => %w[ada lea mo una dov sol -], "lea" => %w[ada lea mo una dov -], "mo" => %w[mo], "dov" => %w[dov]
    )
  end

  it "decides for each verb by itself" do
    found = schema(changed_by: "team", taken_away_by: "administrators")
    expect([sight(found)["dov"].size, sight(found, :changed_by)["dov"], sight(found, :taken_away_by)["dov"]]).to eq(
      [7, %w[lea dov], []]
    )
  end

  it "knows a set-up without kept fields for members, and the whole one for leads and administrators" do
    found = schema(kept: %w[value])
    expect(%w[ada lea mo].map { |key| found.access(key).schema.kind("deal").field("value").nil? }).to eq(
      [false, false, true]
    )
    expect(found.access("mo").veil("Value is set to 3")).to eq(described_class::VEIL)
    expect([found.access("lea").veil("Value is set to 3"), found.access("mo").veil("Stage is Lost")]).to eq(
      ["Value is set to 3", "Stage is Lost"]
    )
  end

  it "lets Yenvo itself see all, and somebody unknown nothing that is not for everyone" do
    found = schema(seen_by: "owner")
    expect([found.access(nil), found.access("who")].map { |one| one.may?(:seen_by, found.kind("deal"), "mo") }).to eq(
      [true, false]
    )
  end

  it "shares words where all who read them see what they are of" do
    found = schema(seen_by: "team")
    deal, contact = found.kind("deal"), found.kind("contact")
    expect(found.shared?([deal, "mo"], [deal, "una"])).to be(true)
    expect(found.shared?([deal, "mo"], [deal, "dov"])).to be(false)
    expect([found.shared?([contact, "mo"], [deal, "mo"]), found.shared?([deal, "mo"], [contact, "dov"])]).to eq(
      [false, true]
    )
  end

  describe "when somebody is chosen" do
    let(:found) { schema(seen_by: "owner") }

    def way(person) = Yenvo::Core::Assignment::NamedPerson.new({"person" => person}, found.kind("deal"), found)

    def choose(person, fallback, owner)
      chooser = Yenvo::Core::Assignment::Chooser.new(way(person), fallback && way(fallback), found)
      chooser.choose(booked({"owner" => owner}), today: nil, whose: [found.kind("deal"), owner])
    end

    it "passes over who may not see the record, and says so" do
      pick = choose("dov", "lea", "mo")
      expect([pick.person, pick.reason]).to match(["lea", /; Dov may not see the deal\z/])
    end

    it "gives it to nobody rather than to somebody who may not see it" do
      expect { choose("dov", nil, "mo") }.to raise_error(
        Yenvo::Core::Error, "There is no one to assign to: Dov may not see the deal. Give the action a fallback."
      )
    end
  end

  it "tells whoever writes a rule what its texts cannot carry" do
    contact = a_schema.kind("contact").with_access(seen_by: "team")
    kinds = schema(kept: %w[value]).kinds.merge("contact" => contact).values
    hiding = Yenvo::Core::Schema.new(kinds:, people: a_schema.people.values, queues: a_schema.queues)
    rule = a_rule(branches: [a_branch(run: [a_task(title: "{{ record.value }} of {{ record.boat_owner.country }}")])])
    expect(Yenvo::Core::Checks.look(rule, hiding)[1].select { |note|
      note["kind"] == "kept"
    }.map { |note| note["text"] })
      .to eq(
        [
          "Value is kept for leads and administrators, so texts say that, and not what it holds",
          "Not everybody sees what stands under Owner of the boat, so texts leave it out where others would read it"
        ]
      )
    expect(Yenvo::Core::Checks.look(rule, a_schema)[1]).to eq([])
  end

  it "is never written out by a text, where the field is kept" do
    found = schema(kept: %w[value])
    fill = ->(source) do
      text = Yenvo::Core::Text.bind(source, found.kind("deal"), found)
      text.fill(booked({"value" => 4350}), rule_name: "A", today: Date.new(2026, 11, 24))
    end
    expect(fill.call("It is {{ record.value }}.")).to eq("It is #{described_class::VEIL}.")
    expect(fill.call("It is {{ record.value | plus: 1 }}.")).to eq(described_class::VEIL)
    expect(fill.call("{% if record.value > 4000 %}Large{% else %}Small{% endif %}")).to eq("Large")
    expect(fill.call("{{ record.value | upcase | truncate: 9 }}")).to eq("(KEPT FO…")
  end
end
