# frozen_string_literal: true

require "json_schemer"

# Every field of a task goes through the same examples, so that a new one is held to all of them by its line alone.
RSpec.describe "Yenvo::Core::Schema::TaskField" do
  fields = Yenvo::Core::Schema::TaskField

  # Something else than the usual of each type, as it stands in a rule file.
  examples = {
    "lines" => "Call {{ record.title }}", "line" => "At {{ record.title }}", "text" => "About {{ record.title }}",
    "link" => "https://example.org/a",
    "day" => {"count" => 2, "unit" => "days", "direction" => "after", "from" => "event", "day_off" => "later"},
    "number" => 3, "answers" => %w[Yes No], "flag" => true, "under" => 1, "assign" => {"to" => "owner"},
    "target" => "record", "paper" => {"name" => "Note.txt", "text" => "For {{ record.title }}"}, "fills" => "quote"
  }
  examples["moment"] = examples["due"] = examples["day"]

  def rule_with(said)
    first = {"action" => "task", "title" => "First", "assign" => {"to" => "person", "person" => "maren"}}
    {
      "format" => "yenvo-rule/1", "name" => "A rule", "record" => "deal", "trigger" => {"when" => "record_made"},
      "branches" => [{"do" => [first, first.merge(said)]}]
    }
  end

  def kit_with(said)
    task = {"key" => "one", "title" => "First", "assign" => {"to" => "owner"}}
    {
      "format" => "yenvo-kit/1", "name" => "A kit", "record" => "deal",
      "phases" => [{"name" => "Only", "tasks" => [task.merge(said)]}]
    }
  end

  def schemer(schema) = JSONSchemer.schema(JSON.parse(JSON.generate(schema.to_h)))

  it "has an example of each type" do
    expect(examples.keys + fields::CHOICES).to match_array(fields::TYPES)
  end

  fields.all.each do |field|
    describe field.key do
      let(:said) { {field.key => examples[field.type] || field.choices.last} }

      it "is read from a rule, written back, and allowed by its schema" do
        next expect(field.stands).not_to include("rule") unless field.stands?("rule")

        rule = Yenvo::Core::RuleReader.read!(rule_with(said))
        expect(rule.to_h["branches"][0]["do"][1]).to include(said)
        expect(schemer(Yenvo::Core::RuleSchema).valid?(rule_with(said))).to be(true)
      end

      it "is read from a kit, written back, and allowed by its schema, where it stands there; else refused" do
        reader = Yenvo::Core::Kits::KitReader.new
        kit = reader.read(kit_with(said))
        schema = schemer(Yenvo::Core::Kits::KitSchema)
        expect([kit.nil?, schema.valid?(kit_with(said))]).to eq(field.stands?("kit") ? [false, true] : [true, false])
        expect(kit.to_h["phases"][0]["tasks"][0]).to include(said) if kit
      end

      it "is refused with a sentence when it is something else" do
        wrong = rule_with(field.key => {"no" => "such thing"})
        expect { Yenvo::Core::RuleReader.read!(wrong) }.to raise_error(Yenvo::Core::InvalidRule) { |error|
          expect(error.problems.map { |one| one.path.first(5) }).to all(
            eq(["branches", 0, "do", 1, field.key])
          )
        }
      end

      it "makes the rule lean on the fields that its blanks name" do
        next unless field.template?

        leaning = rule_with(field.key => "{{ record.value }}")
        uses = Yenvo::Core::Uses.of(Yenvo::Core::RuleReader.read!(leaning), a_schema)
        expect(uses).to include("field deal value")
      end

      it "is told to the editor" do
        told = Yenvo::Core::Vocabulary.to_h(a_schema)["task_fields"].find { |one| one["key"] == field.key }
        expect(told).to include("label" => be_a(String), "asked" => be_a(String), "stands" => field.stands)
      end
    end
  end
end
