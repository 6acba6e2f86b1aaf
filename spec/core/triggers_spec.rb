# frozen_string_literal: true

RSpec.describe Yenvo::Core::Triggers do
  def trigger(plain, problems = []) =
    Yenvo::Core::Triggers.all.fetch(plain["when"])
      .bind(plain.except("when"), a_schema.kind("deal"), a_schema, problems:)

  def fires?(plain, seen) = trigger(plain).to_proc.call(seen)

  let(:moved) do
    facts(before: {"stage" => "quoted", "value" => 10}, after: {"stage" => "survey_booked", "value" => 10})
  end
  let(:made) { facts(what: "record_made", after: {"stage" => "survey_booked"}) }

  it "tells made from changed" do
    expect(
      [
        fires?({"when" => "record_made"}, made), fires?({"when" => "record_made"}, moved),
        fires?({"when" => "record_changed"}, made), fires?({"when" => "record_changed"}, moved)
      ]
    ).to eq([true, false, false, true])
  end

  it "meets one field, from some values and to some" do
    expect(fires?({"when" => "record_changed", "field" => "stage"}, moved)).to be(true)
    expect(fires?({"when" => "record_changed", "field" => "value"}, moved)).to be(false)
    expect(
      fires?({"when" => "record_changed", "field" => "stage", "from" => ["quoted"], "to" => ["survey_booked"]}, moved)
    ).to be(true)
    expect(fires?({"when" => "record_changed", "field" => "stage", "from" => ["enquiry"]}, moved)).to be(false)
    expect(fires?({"when" => "record_changed", "field" => "stage", "to" => ["accepted"]}, moved)).to be(false)
  end

  it "meets a stage entered, also by a record made in it, and a stage left" do
    entered = {"when" => "stage_entered", "stages" => %w[survey_booked accepted]}
    left = {"when" => "stage_left", "stages" => ["quoted"]}
    expect([fires?(entered, moved), fires?(entered, made), fires?(left, moved), fires?(left, made)]).to eq(
      [true, true, true, false]
    )
    expect(
      fires?(entered, facts(before: {"stage" => "survey_booked"}, after: {"stage" => "survey_booked", "value" => 1}))
    ).to be(false)
  end

  it "says what is wrong with its settings" do
    {
      {"when" => "stage_entered", "stages" => ["sold"]} => /must name stages of a deal .*; sold is none/,
      {"when" => "record_changed", "field" => "made"} => nil,
      {"when" => "record_changed", "field" => "changed"} => /Yenvo keeps Changed itself/,
      {"when" => "record_changed", "field" => "price"} => /there is no "price"/,
      {"when" => "record_changed", "field" => "value", "to" => ["much"]} => /takes a number/,
      {"when" => "record_changed", "to" => ["x"]} => /must stand with a field/
    }.each do |plain, sentence|
      problems = []
      trigger(plain, problems)
      sentence ? expect(problems.map(&:text).join).to(match(sentence)) : expect(problems).to(be_empty)
    end
  end

  it "says why it did not meet an event" do
    expect(trigger({"when" => "record_made"}).miss(moved)).to eq("Nothing was made; the deal was there before")
    expect(trigger({"when" => "stage_entered", "stages" => ["accepted"]}).miss(moved)).to eq(
      "Stage became Survey booked"
    )
    expect(trigger({"when" => "stage_left", "stages" => ["enquiry"]}).miss(moved)).to eq("Stage was Quoted")
    expect(trigger({"when" => "record_changed", "field" => "value"}).miss(moved)).to eq("Value did not change")
  end

  describe "several of which any will do" do
    def several(*all, problems: []) =
      Yenvo::Core::Triggers.bind({"any" => all}, a_schema.kind("deal"), a_schema, problems:)

    let(:made_or_worth) { [{"when" => "record_made"}, {"when" => "record_changed", "field" => "value"}] }

    it "meets what one of them meets, and says which" do
      any = several(*made_or_worth)
      worth = facts(before: {"value" => 1}, after: {"value" => 2})
      expect([made, worth, moved].map { |seen| any.to_proc.call(seen) }).to eq([true, true, false])
      expect(any.sentence).to eq("New deal, or Value changes")
      expect(any.met(worth).sentence).to eq("Value changes")
      expect(any.miss(moved)).to eq("Nothing was made; the deal was there before; Value did not change")
      expect(any.short).to eq("new or change")
    end

    it "may run before the save, and watches tasks, only if each of them does" do
      done = {"when" => "task_done"}
      expect(several(*made_or_worth)).to have_attributes(before_save?: true, task?: false, timer?: false)
      expect(several(done, {"when" => "task_dropped"})).to have_attributes(before_save?: false, task?: true)
      expect(several(done, *made_or_worth)).to have_attributes(before_save?: false, task?: false)
    end

    it "is read as a list of one to eight, none of which holds others" do
      read = ->(trigger) do
        reader = Yenvo::Core::RuleReader.new
        task = {"action" => "task", "title" => "Call", "assign" => {"to" => "owner"}}
        plain = {"format" => "yenvo-rule/1", "name" => "x", "record" => "deal", "branches" => [{"do" => [task]}]}
        rule = reader.read(plain.merge("trigger" => trigger))
        rule ? rule.trigger : reader.problems.join
      end
      made = made_or_worth[0]
      expect(read.call("any" => made_or_worth)).to eq("any" => made_or_worth)
      expect(read.call("any" => [made])).to eq(made)
      {
        [] => /trigger.any: must name at least one/, "made" => /trigger.any: must be a list/,
        Array.new(9) { made } => /must have at most 8 items; this has 9/,
        [{"any" => [made]}] => /trigger.any\[1\].when: must be one of/, [nil] => /trigger.any\[1\]: must be a group/,
        [made.merge("field" => "x")] => /trigger.any\[1\].field: must not be there/
      }.each { |any, sentence| expect(read.call("any" => any)).to match(sentence) }
      expect(read.call("any" => [made], "when" => "record_made")).to match(/trigger.when: must not be there/)
    end

    it "says what does not go together, and at which of them" do
      a_day_after = {"count" => 1, "unit" => "days", "from" => "made", "direction" => "after"}
      date = {"when" => "date_timer", "date" => a_day_after}
      quiet = {"when" => "quiet_timer", "nothing" => ["contact"], "span" => {"count" => 3, "unit" => "days"}}
      monthly = {
        "when" => "schedule", "recurs" => "FREQ=MONTHLY", "starts" => "2026-12-01", "at" => "08:00", "once" => true
      }
      {
        [made_or_worth[0], made_or_worth[0]] => /trigger\.any\[2\]: must differ/,
        [date, made_or_worth[0], quiet] => /trigger\.any\[3\]: must be no timer/,
        [made_or_worth[0], monthly] => /trigger\.any\[2\]\.once: must be left out/,
        [made_or_worth[0], {"when" => "stage_left", "stages" => ["sold"]}] => /any\[2\]\.stages: .* sold is none/,
        [made_or_worth[0], {"when" => "stage_left"}] => /trigger\.any\[2\]\.stages: must name at least one/
      }.each do |all, sentence|
        problems = []
        expect(several(*all, problems:)).to be_nil
        expect(problems.map { |problem| "#{problem.where}: #{problem.text}" }.join("\n")).to match(sentence)
      end
    end
  end

  it "imagines an event that it meets, for every record that it can meet" do
    met = 0
    for_many(300) do |chance|
      one = trigger(chance.trigger)
      image = chance.image
      before, after = one.imagine(image)
      next unless after

      met += 1
      who = one.settings["persons"] ? "hollie" : nil
      expect(
        one.to_proc.call(facts(what: one.what, detail: one.sample_detail, before:, after:, who:))
      ).to be(true)
      one.possible.each { |key, values| expect(values).to include(image[key]) }
    end
    expect(met).to be > 50
  end
end
