# frozen_string_literal: true

RSpec.describe Yenvo::Core::Kits do
  def plain(**changes) = Builders.launch_kit.merge(changes.transform_keys(&:to_s))
  def read(plain) = Yenvo::Core::Kits::KitReader.read!(plain)
  def bind(plain, schema: a_schema) = Yenvo::Core::Kits::CompiledKit.bind(read(plain), schema)
  def problems(plain, **more) = Yenvo::Core::Kits::Checks.look(read(plain), a_schema, **more)[0].map(&:to_s)
  def over(answer = nil) = Yenvo::Core::Kits::Progress::State.over(answer)
  def open = Yenvo::Core::Kits::Progress::State.open
  def progress(states) = Yenvo::Core::Kits::Progress.new(read(plain), states)

  # A copy of the kit with one task changed.
  def with_task(key, **changes)
    copy = JSON.parse(JSON.generate(plain))
    copy["phases"].each do |phase|
      phase["tasks"].map! { |task| (task["key"] == key) ? task.merge(changes.transform_keys(&:to_s)).compact : task }
    end
    copy
  end

  describe Yenvo::Core::Kits::KitFile do
    it "writes out what it reads in again, and a file that is wrong gets every problem with its line" do
      kit = read(plain)
      expect(described_class.parse(described_class.dump(kit))).to eq(kit)
      in_parts = read(Builders.with_parts(plain, "callbacks"))
      expect(described_class.parse(described_class.dump(in_parts))).to eq(in_parts)
      expect(described_class.dump(kit)).to start_with("format: yenvo-kit/1\nname: Launch\n")
      broken = described_class.dump(kit).sub("count: back", "count: sideways").sub("key: hull", "key: Hull ß")
      expect { described_class.parse(broken) }.to raise_error(Yenvo::Core::InvalidRule) { |error|
        expect(error.problems.map(&:to_s)).to match(
          [
            /line 4: count: must be one of forward, back/,
            /line \d+: phases\[1\]\.tasks\[2\]\.key: must be a short name/
          ]
        )
      }
    end

    it "fits the JSON Schema that is made from the registries" do
      require "json_schemer"
      schema = JSONSchemer.schema(JSON.parse(JSON.generate(Yenvo::Core::Kits::KitSchema.to_h)))
      expect(schema.validate(JSON.parse(JSON.generate(read(plain).to_h))).to_a).to be_empty
      expect(schema.valid?(plain.merge("more" => 1))).to be(false)
      expect(JSON.parse(File.read("docs/kit.schema.json"))).to eq(
        JSON.parse(JSON.generate(Yenvo::Core::Kits::KitSchema.to_h))
      )
    end
  end

  it "refuses a task without a key or a title, instead of leaving it out" do
    broken =
      plain(phases: [{"name" => "", "tasks" => [{"key" => nil, "title" => "A"}, {"key" => "b", "title" => nil}]}])
    expect { read(broken) }.to raise_error(Yenvo::Core::InvalidRule) { |error|
      expect(error.problems.map(&:to_s)).to eq(
        ["phases[1].tasks[1].key: must be given", "phases[1].tasks[2].title: must be given"]
      )
    }
  end

  it "property: whatever is thrown at it, a kit is read or refused with sentences" do
    junk = [
      nil, 7, -1, "", "x" * 5_000, [], {}, [[]], {"a" => {"b" => []}}, "{{ x", "{% include 'x' %}", "= system('x')",
      true, 1e300, [nil], "\u0000"
    ]
    for_many(300) do |chance|
      copy = JSON.parse(JSON.generate(plain))
      5.times do
        at =
          chance.some(
            [copy, chance.some((copy["phases"].is_a?(Array) && copy["phases"].any?) ? copy["phases"] : [copy])]
          )
        at = chance.some(at["tasks"]) if at.is_a?(Hash) && at["tasks"].is_a?(Array) && at["tasks"].any?
        next unless at.is_a?(Hash) && at.any?

        at[chance.some([*at.keys, "after", "opens", "due", "assign"])] = chance.some(junk)
      end
      begin
        found, notes = Yenvo::Core::Kits::Checks.look(read(copy), a_schema)
        expect(found.map(&:to_s) + notes.map { |note| note["text"] }).to all(be_a(String))
      rescue Yenvo::Core::InvalidRule => error
        expect(error.problems).not_to be_empty
      end
    end
  end

  describe Yenvo::Core::Kits::Progress do
    it "brings tasks at the start, after a task, after an answer, and after several" do
      expect(progress({}).due).to eq(%w[hoist hull])
      hull = {"hoist" => open, "hull" => over("Sound")}
      expect([progress(hull).due, progress(hull).not_needed, progress(hull).waiting]).to eq(
        [%w[antifoul], %w[quote agreed stop], %w[mast launch]]
      )
      nearly = hull.merge("antifoul" => over, "mast" => over)
      expect(progress(nearly).due).to eq([])
      expect(progress(nearly.merge("hoist" => over)).due).to eq(%w[launch])
      done = nearly.merge("hoist" => over, "launch" => over)
      expect([progress(done).over?, progress(nearly).over?]).to eq([true, false])
    end

    it "knows what is never needed on each way, and then ends" do
      unsafe = {"hoist" => over, "hull" => over("Unsafe")}
      expect([progress(unsafe).due, progress(unsafe).not_needed]).to eq(
        [%w[stop], %w[quote agreed antifoul mast launch]]
      )
      expect(progress(unsafe.merge("stop" => over)).over?).to be(true)
      needs = {"hoist" => over, "hull" => over("Needs work")}
      expect(progress(needs).due).to eq(%w[quote])
      agreed = needs.merge("quote" => over)
      expect(progress(agreed).due).to eq(%w[agreed])
      expect(progress(agreed.merge("agreed" => over("Yes"))).due).to eq(%w[antifoul])
      expect(progress(agreed.merge("agreed" => over("No"))).due).to eq(%w[stop])
      silent = progress(agreed.merge("agreed" => over("Silent")))
      expect([silent.over?, silent.not_needed]).to eq([true, %w[stop antifoul mast launch]])
    end

    it "property: however the tasks end, a copy ends, and each task came or is not needed" do
      kit = read(plain)
      for_many(200) do |chance|
        kit = read(chance.chance(0.5) ? plain : Builders.with_parts(plain, "callbacks"))
        states = {}
        (kit.tasks.size * 3).times do
          now = described_class.new(kit, states)
          expect(now.due & states.keys).to be_empty
          break if now.over?

          now.due.each { |key| states[key] = open }
          key = chance.some(states.reject { |_, state| state.over }.keys)
          task = kit.task(key)
          states[key] = chance.chance(0.2) ? over : over(chance.some([*task.answers, *([nil] if task.answers.empty?)]))
        end
        last = described_class.new(kit, states)
        expect(last).to be_over
        expect((states.keys + last.not_needed).sort).to eq(kit.tasks.map(&:key).sort)
        # What was done before it came to be not needed stays.
        expect(last.not_needed & states.keys).to be_empty
      end
    end
  end

  describe "dates" do
    let(:kit) { bind(plain)[0] }

    def planned(keys, seen, now: Builders::NOON) =
      kit.come(keys, seen, now:, anchor: kit.anchor(seen, now:)).to_h { |task| [task.kit_task, task] }

    it "count back from the target, or from when the task comes, and days off roll as the kit says" do
      tasks =
        planned(
          %w[hoist hull quote launch stop],
          facts(after: {"survey_date" => "2027-01-18", "surveyor" => "callum", "owner" => "hollie"})
        )
      # 30 days before is Saturday 19 December; the kit moves dates earlier.
      expect(tasks.transform_values { |task| task.due&.on&.iso8601 }).to eq(
        "hoist" => "2026-12-18", "hull" => "2026-12-23", "quote" => "2026-11-26", "launch" => "2027-01-18",
        "stop" => "2026-11-24"
      )
      expect(tasks["launch"].due.minutes).to eq(600)
      expect(tasks["hoist"].notes.join).to include("30 days before the target", "moved to Fri 18 Dec 2026")
      expect([tasks["hull"].assignee, tasks["quote"].assignee, tasks["hoist"].queue]).to eq(%w[callum hollie callbacks])
    end

    it "are left out while the target is empty, and worked out anew when it moves" do
      expect(planned(%w[hoist], facts)["hoist"].due).to be_nil
      seen = facts(after: {"survey_date" => "2027-02-01"})
      seen = seen.anchored(kit.anchor(seen, now: Builders::NOON))
      moved = kit.tasks["hoist"].moved(seen, now: Builders::NOON)
      expect(moved[:due].on).to eq(Date.new(2027, 1, 1).then { Date.new(2026, 12, 23) })
      expect(kit.tasks["quote"].moved(seen, now: Builders::NOON)).to eq({})
    end

    it "count forward from the event, from now or from a date field" do
      due = {"count" => 2, "unit" => "working_days", "from" => "start"}
      forward =
        plain(
          count: "forward", from: "event",
          phases: [
            {
              "name" => "All",
              "tasks" => [
                {"key" => "a", "title" => "A", "assign" => {"to" => "queue", "queue" => "callbacks"}, "due" => due}
              ]
            }
          ]
        )
      {"event" => "2026-11-26", "now" => "2026-11-27", "survey_date" => "2026-12-03"}.each do |from, expected|
        kit = bind(forward.merge("from" => from))[0]
        seen = facts(after: {"survey_date" => "2026-12-01"})
        now = Builders::NOON + 86_400
        expect(kit.come(%w[a], seen, now:, anchor: kit.anchor(seen, now:))[0].due.on.iso8601).to eq(expected)
      end
    end
  end

  describe Yenvo::Core::Kits::Checks do
    it "passes a kit that is right, and tells of an answer that leads nowhere" do
      found, notes = described_class.look(read(plain), a_schema)
      expect(found).to be_empty
      expect(notes.map { |note| note["text"] }).to eq(
        ["Task 4, Silent: nothing comes after it. What follows the other answers is then not needed."]
      )
    end

    it "finds circles, unknown tasks and answers, twice the same key, and no tasks at all" do
      expect(problems(with_task("quote", after: [[{"task" => "agreed", "answer" => "Yes"}]]))).to match(
        [/phases: must not go round in a circle: \d → \d → \d/]
      )
      expect(problems(with_task("mast", after: [[{"task" => "mist"}]]))).to match(
        [/after\[1\]\[1\]: must be a task of this kit; there is no "mist"/]
      )
      expect(problems(with_task("mast", after: [[{"task" => "mast"}]])).join).to include(
        "must be another task than itself"
      )
      expect(problems(with_task("mast", after: [[{"task" => "hull", "answer" => "Maybe"}]]))).to match(
        [/must be an answer that task 2 asks for: Sound, Needs work, Unsafe; "Maybe" is none/]
      )
      expect(problems(with_task("mast", key: "hoist")).join).to include("stands there twice")
      expect(problems(plain(phases: []))).to eq(["phases: must have at least one task"])
    end

    it "finds a target that is no date, dates from the wrong end, and everything that a rule's task would be told" do
      expect(problems(plain(from: "value"))).to match(
        [/from: must be a date field of the deal that is kept; "Value" is none/]
      )
      expect(problems(plain(from: ""))).to match([/must say from which date field it counts back/])
      expect(problems(plain(from: "event"))).to match(
        [/must be a date field of the deal, from which a kit can count back/]
      )
      expect(problems(with_task("hoist", due: {"count" => 1, "unit" => "days", "from" => "start"}))).to match(
        [/due\.from: must not be start; this kit counts back from a target/]
      )
      expect(problems(with_task("hull", fallback: nil))).to match([/fallback: must name somebody/])
      expect(problems(with_task("hoist", title: "{{ record.titel }}"))).to match([/the nearest is "title"/])
      expect(
        problems(
          with_task(
            "hoist", assign: {"to" => "turns", "team" => "nobody"}, fallback: {"to" => "queue", "queue" => "callbacks"}
          )
        )
      ).to match([/must name a team/])
    end

    it "refuses a kit that would open itself, by one step or by more" do
      opens = ->(kit) do
        {
          "kind" => "ticket", "values" => [{"field" => "title", "text" => "Rig {{ record.title }}"}], "link" => "boat",
          "kit" => kit
        }
      end
      expect(problems(with_task("mast", opens: opens.call("launch")), key: "launch").join).to include(
        "a kit that opens itself would never end"
      )
      expect(problems(with_task("mast", opens: opens.call("nothing"))).join).to include("must be a published kit")
      ticket =
        read(
          "format" => "yenvo-kit/1", "name" => "Rigging", "record" => "ticket",
          "phases" => [
            {
              "name" => "",
              "tasks" => [
                {
                  "key" => "a", "title" => "A", "assign" => {"to" => "queue", "queue" => "callbacks"},
                  "opens" => {
                    "kind" => "deal", "values" => [{"field" => "title", "value" => "Again"}], "kit" => "launch"
                  }
                }
              ]
            }
          ]
        )
      schema =
        build_schema(
          kits: [Yenvo::Core::Kits::Book::Entry.new(key: "rigging", id: 1, version_id: 1, number: 1, kit: ticket)]
        )
      found =
        Yenvo::Core::Kits::Checks.look(read(with_task("mast", opens: opens.call("rigging"))), schema, key: "launch")[0]
      expect(found.join).to include("would open it again")
    end
  end

  it "is used by an action of a rule, with the first tasks planned at once" do
    schema =
      build_schema(
        kits: [Yenvo::Core::Kits::Book::Entry.new(key: "launch", id: 4, version_id: 9, number: 2, kit: read(plain))]
      )
    plan =
      compiled(a_rule(branches: [a_branch(run: [doing("kit", kit: "launch")])]), schema:).plan(
        booked({"survey_date" => "2026-12-01", "owner" => "hollie"}), now: Builders::NOON
      ) { false }
    effect = plan.steps[0][2]
    expect([effect.words, effect.kit.version_id, effect.tasks.map(&:kit_task)]).to eq(
      ["Kit “Launch”: 2 of 8 tasks at the start", 9, %w[hoist hull]]
    )
    expect(effect.notes.join).to include("is late from the start: ")
    expect(problems_of(a_rule(branches: [a_branch(run: [doing("kit", kit: "nothing")])]), schema:)).to match(
      [/must be a published kit \(launch\); "nothing" is none/]
    )
    expect(
      problems_of(
        a_rule(
          kind: "contact", trigger: {"when" => "record_made"}, branches: [a_branch(run: [doing("kit", kit: "launch")])]
        ),
        schema:
      )
    ).to match([/must be a kit for a contact; “Launch” is for a deal/])
  end
end
