# frozen_string_literal: true

RSpec.describe Yenvo::Core::BoundCondition do
  # Binds a condition on deals and asks it about one value of the field.
  def met?(field, test, operand, after: {}, before: {}, linked: {})
    bound = described_class.bind(a_condition(field, test, operand), a_schema.kind("deal"), a_schema)
    bound.to_proc.call(facts(after:, before:, linked:))
  end

  {
    ["is", "insurance"] => {"insurance" => true, "damage" => false, nil => false},
    ["is_not", "insurance"] => {"insurance" => false, "damage" => true, nil => true},
    ["is_one_of", %w[insurance damage]] => {"insurance" => true, "pre_purchase" => false, nil => false},
    ["is_none_of", %w[insurance damage]] => {"insurance" => false, "pre_purchase" => true, nil => true},
    ["is_empty", nil] => {"insurance" => false, nil => true},
    ["is_filled_in", nil] => {"insurance" => true, nil => false}
  }.each do |(test, operand), answers|
    answers.each do |value, answer|
      it "#{test} #{Array(operand).join(",")} is #{answer} for #{value.inspect}" do
        expect(met?("survey_type", test, operand, after: {"survey_type" => value}.compact)).to be(answer)
      end
    end
  end

  {
    "more" => [false, false, true], "less" => [true, false, false], "at_least" => [false, true, true],
    "at_most" => [true, true, false]
  }.each do |test, answers|
    it "#{test} 12 answers #{answers.join(", ")} for 11, 12 and 13, and false for an empty field" do
      expect([11, 12, 13].map { |length| met?("boat_length", test, 12, after: {"boat_length" => length}) }).to eq(
        answers
      )
      expect(met?("boat_length", test, 12)).to be(false)
    end
  end

  it "counts both ends of between in" do
    expect([9, 10, 15, 20, 21].map { |value| met?("value", "between", [10, 20], after: {"value" => value}) }).to eq(
      [false, true, true, true, false]
    )
  end

  it "compares dates by day" do
    day = {"survey_date" => "2026-12-03"}
    expect(
      [
        met?("survey_date", "before", "2026-12-04", after: day),
        met?("survey_date", "before", "2026-12-03", after: day), met?("survey_date", "after", "2026-12-02", after: day)
      ]
    ).to eq([true, false, true])
  end

  it "compares texts without case" do
    expect(met?("notes", "contains", "URGENT", after: {"notes" => "It is urgent"})).to be(true)
    expect(met?("notes", "contains", "ärger", after: {"notes" => "GROSSER ÄRGER"})).to be(true)
    expect(met?("title", "is", "quiet hour", after: {"title" => "Quiet Hour"})).to be(true)
  end

  it "knows how a text begins and ends, without case unless that counts, and never for an empty one" do
    answers = {
      ["begins_with", "quiet"] => true, ["begins_with", "hour"] => false, ["ends_with", "HOUR"] => true,
      ["ends_with", "quiet"] => false, ["ends_with", "quiet hour"] => true
    }
    answers.each do |(test, text), answer|
      expect(met?("notes", test, text, after: {"notes" => "Quiet Hour"})).to be(answer)
      expect(met?("notes", test, text)).to be(false)
    end
  end

  it "finds one of several choices" do
    expect(met?("extras", "contains", "mast", after: {"extras" => %w[engine mast]})).to be(true)
    expect(met?("extras", "contains", "mast", after: {"extras" => %w[engine]})).to be(false)
  end

  it "looks at what was before" do
    expect(met?("stage", "was", "quoted", before: {"stage" => "quoted"}, after: {"stage" => "accepted"})).to be(true)
    expect(met?("stage", "changed", nil, before: {"stage" => "quoted"}, after: {"stage" => "quoted"})).to be(false)
    expect(met?("stage", "changed", nil, before: {"stage" => "quoted"}, after: {"stage" => "accepted"})).to be(true)
  end

  it "goes over a link, and is false when there is none" do
    owner = {3 => {"id" => 3, "title" => "Aldo", "country" => "france"}}
    expect(met?("boat_owner.country", "is", "france", after: {"boat_owner" => 3}, linked: owner)).to be(true)
    expect(met?("boat_owner.country", "is", "france", linked: owner)).to be(false)
    expect(met?("boat_owner.country", "is_empty", nil)).to be(true)
  end

  it "says what is wrong with a condition that does not fit" do
    kind = a_schema.kind("deal")
    wrong = {
      ["boat_lenght", "more", 3] => /there is no "boat_lenght", the nearest is "boat_length"/,
      %w[boat_length more long] => /takes a number such as 12 or 9.1; “long” is none/,
      %w[survey_type more damage] => /more than is not/,
      %w[boat_owner.country was france] => /kept with the record itself/,
      %w[survey_type is sail] => /takes one of Pre-purchase, Insurance, Damage/,
      ["value", "is", nil] => /takes a value here/, ["value", "between", [5, 2]] => /the lower first/,
      %w[title.country is x] => /Title of a deal is none/
    }
    wrong.each do |(field, test, operand), sentence|
      problems = []
      expect(described_class.bind(a_condition(field, test, operand), kind, a_schema, problems:)).to be_nil
      expect(problems.map(&:text).join).to match(sentence)
    end
  end

  it "answers the same in its fast and its explaining form, for every operator, alone and in groups" do
    kind = a_schema.kind("deal")
    seen = Set.new
    for_many(600) do |chance|
      group = Yenvo::Core::BoundGroup.bind(chance.group, kind, a_schema)
      facts = chance.facts
      group.each_leaf { |leaf| seen << leaf.operator.name }
      expect(group.explain(facts).met).to eq(group.to_proc.call(facts))
      group.each_leaf { |leaf| expect(leaf.explain(facts).met).to eq(leaf.to_proc.call(facts)) }
    end
    expect(seen).to match_array(Yenvo::Core::Operators.all.names)
  end
end
