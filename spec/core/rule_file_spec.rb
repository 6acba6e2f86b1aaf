# frozen_string_literal: true

require "json_schemer"

RSpec.describe Yenvo::Core::RuleFile do
  it "reads back every rule that it writes, unchanged, as YAML and as JSON", :slow do
    for_many(300) do |chance|
      rule = chance.rule
      expect(described_class.parse(described_class.dump(rule))).to eq(rule)
      expect(described_class.parse(JSON.generate(rule.to_h))).to eq(rule)
    end
  end

  it "writes only what its JSON Schema allows", :slow do
    schemer = JSONSchemer.schema(JSON.parse(JSON.generate(Yenvo::Core::RuleSchema.to_h)))
    for_many(80) do |chance|
      expect(schemer.validate(JSON.parse(JSON.generate(chance.rule.to_h))).map { |error| error["error"] }.to_a).to eq(
        []
      )
    end
    expect(
      schemer.valid?(
        {
          "format" => "yenvo-rule/1", "name" => "x", "record" => "deal",
          "trigger" => {"when" => "moon"}, "branches" => []
        }
      )
    ).to be(false)
  end

  it "is the schema that stands in docs/" do
    expect(JSON.parse(File.read("docs/rule.schema.json"))).to eq(
      JSON.parse(JSON.generate(Yenvo::Core::RuleSchema.to_h))
    )
  end

  it "reads every rule of the demo" do
    paths = Dir["demo/rules/*.yml"]
    expect(paths.size).to be >= 17
    paths.each { |path| expect { described_class.parse(File.read(path)) }.not_to raise_error }
  end

  it "names every problem of a file with its line and place" do
    source = <<~YAML
      format: yenvo-rule/2
      name: Survey booked
      record: deal
      trigger: {when: stage_enterd, stages: [x]}
      branches:
        - if:
            all:
              - {field: value, test: biger, value: 3}
              - {field: value, test: between}
          do:
            - action: task
              priority: soon
              due: {count: many, unit: days, at: "25:00"}
              colour: red
      otherwise: nothing
    YAML
    problems = begin
      described_class.parse(source)
    rescue Yenvo::Core::InvalidRule => error
      error.problems.map(&:to_s)
    end
    expect(problems).to match(
      [
        %r{\Aline 1: format: must be yenvo-rule/1; "yenvo-rule/2" is not},
        /\Aline 4: trigger\.when: must be one of record_made, .*; "stage_enterd" is not/,
        /\Aline 8: branches\[1\]\.if\.all\[1\]\.test: must be one of is, .*; "biger" is not/,
        /\Aline 14: branches\[1\]\.do\[1\]\.colour: must not be there/,
        /\Aline 11: branches\[1\]\.do\[1\]\.title: must be given/,
        /\Aline 15: otherwise: must be a list; "nothing" is not/
      ]
    )
  end

  it "places what is found against the schema, too" do
    source = described_class.dump(a_rule(branches: [a_branch(a_condition("boat_lenght", "more", 3))]))
    _, problems = Yenvo::Core::CompiledRule.bind(described_class.parse(source), a_schema)
    line = source.lines.index { |text| text.include?("boat_lenght") } + 1
    expect(described_class.place(source, problems).map(&:to_s)).to match(
      [/\Aline #{line}: branches\[1\]\.if\.all\[1\]\.field: .*nearest is "boat_length"/]
    )
  end

  {
    "not YAML" => ["a: [", /must be YAML/], "empty" => ["", /the file is empty/],
    "aliases" => ["a: &x 1\nb: *x", /aliases are not taken/],
    "tags" => ["--- !ruby/object:Object {}\n", /must be given/],
    "names twice" => ["format: 1\nformat: 2", /must be given once/],
    "too deep" => ["#{"[" * 60}#{"]" * 60}", /nested at most 24 deep/],
    "too large" => ["x" * 300_000, /at most 200,000 bytes/], "not UTF-8" => ["name: \xFF\xFE", /must be UTF-8/],
    "a list" => ["- 1", /group of names and values/]
  }.each do |name, (source, sentence)|
    it "refuses a file that is #{name} with a sentence" do
      expect { described_class.parse(source) }.to raise_error(Yenvo::Core::InvalidRule) { |error|
        expect(error.problems.map(&:text).join(" ")).to match(sentence)
      }
    end
  end

  it "refuses a task whose title is nothing at all" do
    rule = a_rule.to_h.merge("branches" => [{"do" => [{"action" => "task", "title" => nil}]}])
    expect { Yenvo::Core::RuleReader.read!(rule) }.to raise_error(Yenvo::Core::InvalidRule) { |error|
      expect(error.problems.map(&:to_s)).to eq(["branches[1].do[1].title: must be given"])
    }
  end

  it "limits depth and size of what a rule holds" do
    deep = (1..8).inject({"field" => "value", "test" => "is_empty"}) { |inner, _| {"all" => [inner]} }
    rule = a_rule.to_h.merge("only_if" => deep, "branches" => Array.new(60) { {"do" => []} })
    expect { Yenvo::Core::RuleReader.read!(rule) }.to raise_error(Yenvo::Core::InvalidRule) { |error|
      expect(error.problems.map(&:text)).to contain_exactly(
        "must be nested at most 6 deep", "must have at most 50 items; this has 60"
      )
    }
  end
end

RSpec.describe Yenvo::Core::RuleChanges do
  it "counts the places in which two versions differ" do
    one = a_rule
    expect(described_class.count(one, one)).to eq(0)
    expect(described_class.count(one, one.with(name: "Other", how_often: "once_per_visit"))).to eq(2)
    expect(described_class.count(one, one.with(branches: [*one.branches, a_branch]))).to eq(1)
  end
end

RSpec.describe Yenvo::Core::RuleFile do
  it "answers any file with a rule or with sentences that say where, however it is damaged" do
    bits = [
      "\u0000", "&a *a", "{{", "{% include 'x' %}", "= `ls`", "- - - -", "!ruby/object:Object {}", "🙂" * 50, ": : :",
      "[" * 300, "'", "\t", "field: = system('id')", "x" * 9_000, "? ", "---\n", "#", "1e999", "all:",
      (+"\xff").force_encoding("BINARY")
    ]
    for_many(250) do |chance|
      text = described_class.dump(chance.rule).dup.force_encoding("BINARY")
      chance.some([1, 2, 5]).times do
        at = chance.some((0..text.bytesize).to_a)
        case chance.some([0, 1, 2])
        when 0 then text[at, 0] = chance.some(bits).b
        when 1 then text[at, chance.some([1, 5, 40])] = ""
        else text[at, chance.some([1, 8])] = chance.some(bits).b
        end
      end
      problems = begin
        Yenvo::Core::Checks.run(described_class.parse(text), a_schema)
      rescue Yenvo::Core::InvalidRule => error
        error.problems
      end
      expect(
        problems.map { |problem| [problem.text.class, problem.where.class, problem.to_s.valid_encoding?] }.uniq -
          [[String, String, true]]
      ).to be_empty
    end
  end
end
