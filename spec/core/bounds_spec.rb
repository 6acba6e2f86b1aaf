# frozen_string_literal: true

# What people and visitors write can be large in what it asks for and small in what it says. None of it may take long.
RSpec.describe "Bounds of work" do
  def within_bounds
    GC.start
    before = GC.stat(:malloc_increase_bytes) + resident
    began = worked
    yield
    expect(worked - began).to be < 1.0
    expect(resident - before).to be < 50_000_000
  end

  # Seconds that this process has worked: others may keep the machine busy meanwhile.
  def worked = Process.clock_gettime(Process::CLOCK_PROCESS_CPUTIME_ID)

  # Bytes that this process has in memory (proc(5), statm).
  def resident = File.read("/proc/self/statm").split[1].to_i * 4_096

  def formula(source, kind: "deal")
    problems = []
    Yenvo::Core::Formula.bind(source, a_schema.kind(kind), a_schema, problems:)
    problems.map(&:text)
  end

  def text(source, **after)
    problems = []
    bound = Yenvo::Core::Text.bind(source, a_schema.kind("deal"), a_schema, problems:)
    if bound
      bound.fill(facts(after: after.transform_keys(&:to_s)), rule_name: "r", today: Date.new(2026, 11, 24))
    else
      problems
    end
  rescue Yenvo::Core::Error => error
    error.message
  end

  it "hold for numbers of any size in formulas" do
    ["1e9000000 * 2", "9" * 490, "value * 1e400", "-1e99", "0.#{"1" * 480}"].each do |source|
      within_bounds { formula(source) }
    end
    expect(formula("1e9000000 * value")).to match([/must have numbers up to 1,000,000,000,000; 1e9000000/])
    expect(formula("1000000000001")).not_to be_empty
    expect(formula("1000000000000")).to be_empty
    product =
      Yenvo::Core::Formula.bind(
        Array.new(18, "999999999999").join(" * "), a_schema.kind("deal"), a_schema, problems: []
      )
    within_bounds { expect(product.call(facts, {})).to be_nil }
  end

  it "hold for texts that grow by being filled in" do
    chain = "{{ record.notes#{" | replace: 'x', 'xxxxxxxxxxxxxxxxxxxxxxxxxxxx'" * 7} }}"
    within_bounds { expect(text(chain, notes: "x" * 50)).to match(/would grow beyond/) }
    [
      "{{ (1..9999999) | join }}", "{{ record.notes | strip_html }}", "{{ today | date: '%9999999999d' }}",
      "{{ record.notes | append: record.notes | append: record.notes }}", "{{ record.notes }}" * 180,
      "{{ record.notes | truncate: 99999999999999 }}", "{{ 9 | times: 99999999999 | times: 99999999999 }}",
      "{% if (1..99999999999) contains 5 %}x{% endif %}"
    ].each { |source| within_bounds { text(source, notes: "<" * 20_000) } }
  end

  it "hold for files that are nested without end, or full of numbers" do
    [
      "[" * 20_000 + "]" * 20_000, "{a: " * 9_000, "- " * 20_000, "name: #{"9" * 40_000}", "name: 1.0e999",
      "name: 1.#{"0" * 40_000}"
    ].each do |source|
      within_bounds { expect { Yenvo::Core::RuleFile.parse(source) }.to raise_error(Yenvo::Core::InvalidRule) }
    end
    problems = begin
      Yenvo::Core::RuleFile.parse("name: x\nrecord: #{"[" * 30}#{"]" * 30}")
    rescue Yenvo::Core::InvalidRule => error
      error.problems
    end
    expect(problems.map(&:to_h)).to match([hash_including(text: "must be nested at most 24 deep", line: 2)])
  end

  it "hold for the checks of a rule with as many branches as there can be", :slow do
    fields = [%w[value boat_length deposit], %w[value boat_length survey_type], %w[value boat_length deposit_in]]
    choice = {"survey_type" => %w[insurance damage pre_purchase], "deposit_in" => [true, false]}
    fields.each do |names|
      [12, 50].each do |edges|
        branches = Array.new(50) { |i|
          a_branch(*names.map { |name|
            if choice[name]
              a_condition(name, "is", choice[name][i % choice[name].size])
            else
              a_condition(name, i.even? ? "more" : "less", i * 7 % edges)
            end
          })
        }
        within_bounds { Yenvo::Core::Checks.look(a_rule(branches:), a_schema) }
      end
    end
  end

  it "hold for what is quoted in a refusal" do
    [["x"] * 400_000, {"a" => "b" * 4_000_000}, "y" * 4_000_000].each do |value|
      within_bounds do
        expect { Yenvo::Core::Reading.value(a_schema.kind("deal").field("value"), value, a_schema) }.to raise_error(
          Yenvo::Core::Unreadable
        ) { |error| expect(error.message.size).to be < 200 }
      end
    end
  end
end
