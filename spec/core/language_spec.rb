# frozen_string_literal: true

# What rules can watch, ask and do beyond fields of the record and tasks.
RSpec.describe Yenvo::Core::CompiledRule do
  def ran?(rule, seen, **given) = compiled(rule, **given).hit(seen) ? true : false

  def met?(field, test, value, after: {}, exact: false, **given)
    rule =
      a_rule(
        trigger: {"when" => "record_changed"},
        only_if: all_of(Yenvo::Core::Condition.new(field:, test:, value:, exact:))
      )
    ran?(rule, facts(after: {"stage" => "x"}.merge(after), **given))
  end

  def steps(actions, seen = booked)
    compiled(a_rule(branches: [a_branch(run: actions)])).plan(seen, now: Builders::NOON) { false }.steps
      .map { |_, number, step| [number, step] }
  end

  def watch(**trigger) = a_rule(trigger: trigger.transform_keys(&:to_s))

  def note(text, what: "interaction_logged", who: "hollie", after: {}, **detail) =
    facts(
      what:, who:, after:, before: after,
      detail: {"way" => "note", "text" => text}.merge(detail.transform_keys(&:to_s))
    )

  it "meets a code as a word of its own, capitals counting, neither quoted nor in a note that had it before" do
    rule = watch(when: "code", code: "!haul")
    yes = ["!haul", "Please !haul, today", "(!haul)", "> old\n!haul now", "“!haul”", "Done.\n!haul"]
    no = ["!hauling", "!Haul", "x!haul", "!!haul", "haul", "> !haul", "  > said: !haul", "!haul-out", "mail@!haul"]
    expect(yes.map { |text| ran?(rule, note(text)) }).to all(be(true))
    expect(no.map { |text| ran?(rule, note(text)) }).to all(be(false))
    expect(ran?(rule, note("!haul and more", what: "note_edited", was: "!haul"))).to be(false)
    expect(ran?(rule, note("!haul now", what: "note_edited", was: "later"))).to be(true)
    expect(ran?(rule, note("!haul", way: "call"))).to be(false)
  end

  it "lets only those start a code who may" do
    rule = watch(when: "code", code: "!haul", persons: ["maren"], teams: ["front_office"], roles: ["surveyor"])
    expect(%w[maren hollie callum].map { |who| ran?(rule, note("!haul", who:)) }).to eq([true, true, false])
    expect(ran?(rule, note("!haul", who: "callum", after: {"surveyor" => "callum"}))).to be(true)
    expect(compiled(rule).plan(note("!haul", who: "callum"), now: Builders::NOON) { false }.why).to eq(
      "Callum Reyes may not start it by !haul"
    )
    expect(problems_of(watch(when: "code", code: "haul"))).to match([/must begin with ! and go on with letters/])
    expect(problems_of(watch(when: "code", code: "!haul", teams: ["nobody"]))).to match([/must name teams/])
  end

  it "meets links, lists, interactions, forms, messages and what is started by hand" do
    expect(ran?(watch(when: "linked", kinds: ["ticket"]), facts(what: "linked", detail: {"kind" => "ticket"}))).to be(
      true
    )
    expect(
      ran?(watch(when: "linked", kinds: ["ticket"]), facts(what: "linked", detail: {"kind" => "contact"}))
    ).to be(false)
    expect(
      ran?(
        watch(when: "put_on_list", lists: ["launch_roster"]),
        facts(what: "put_on_list", detail: {"list" => "launch_roster"})
      )
    ).to be(true)
    expect(ran?(watch(when: "interaction_logged", ways: ["call"]), note("x"))).to be(false)
    expect(ran?(watch(when: "interaction_logged"), note("x"))).to be(true)
    expect(
      %w[form_sent message_in].map do |name|
        ran?(watch(when: name), facts(what: "record_made", detail: {"door" => "form"}))
      end
    ).to eq([true, false])
    rule = compiled(watch(when: "by_hand"), id: 4)
    expect(
      [4, 5].map { |id| Yenvo::Core::Matcher.new([rule]).hits(facts(what: "started", detail: {"rule" => id})).size }
    ).to eq([1, 0])
    expect(rule.plan(booked, now: Builders::NOON) { false }.why).to eq("Nobody started it by hand")
  end

  it "asks about the event: who, when, since when, and what was before" do
    expect(met?("event.who", "is", "hollie")).to be(true)
    expect(met?("event.team", "is", "front_office")).to be(true)
    expect(met?("before.value", "more", 3, before: {"value" => 5})).to be(true)
    expect(
      met?(
        "event.since", "more_than_ago", {"count" => 2, "unit" => "working_days"},
        before: {"stage" => "a", "stage_since" => "2026-11-18T12:00:00.000000Z"}
      )
    ).to be(true)
    expect(
      met?(
        "event.since", "more_than_ago", {"count" => 5, "unit" => "working_days"},
        before: {"stage" => "a", "stage_since" => "2026-11-18T12:00:00.000000Z"}
      )
    ).to be(false)
    expect(met?("today", "after", "2026-11-23")).to be(true)
    expect(problems_of(a_rule(only_if: all_of(a_condition("event.mood", "is", "x"))))).to match(
      [/must be one of event.who/]
    )
  end

  it "holds dates against now, in calendar and working units, and never an empty one" do
    date = ->(test, count, unit, value) do
      met?("survey_date", test, {"count" => count, "unit" => unit}, after: {"survey_date" => value})
    end
    expect(
      [
        date.call("within_next", 3, "working_days", "2026-11-27"),
        date.call("within_next", 3, "working_days", "2026-11-28"),
        date.call("within_next", 3, "working_days", "2026-11-23")
      ]
    ).to eq([true, false, false])
    expect(
      [
        date.call("within_last", 1, "weeks", "2026-11-17"), date.call("within_last", 1, "weeks", "2026-11-16"),
        date.call("within_last", 1, "weeks", "2026-11-25")
      ]
    ).to eq([true, false, false])
    expect(
      [
        date.call("more_than_ago", 1, "months", "2026-10-23"), date.call("more_than_ahead", 10, "days", "2026-12-05"),
        date.call("more_than_ahead", 10, "days", "2026-12-04")
      ]
    ).to eq([true, true, false])
    expect(
      Yenvo::Core::Operators.all.select { |_, one| one.takes == :span }
        .map { |name, _| date.call(name, 1, "days", nil) }
    ).to all(be(false))
    expect(
      met?(
        "seen_at", "within_last", {"count" => 90, "unit" => "minutes"},
        after: {"seen_at" => "2026-11-24T10:31:00.000000Z"}
      )
    ).to be(true)
    expect(
      met?(
        "seen_at", "more_than_ago", {"count" => 4, "unit" => "working_hours"},
        after: {"seen_at" => "2026-11-23T17:00:00.000000Z"}
      )
    ).to be(true)
  end

  it "compares two fields, and counts capitals when asked" do
    expect(met?("value", "more", {"field" => "deposit"}, after: {"value" => 5, "deposit" => 4})).to be(true)
    expect(met?("value", "more", {"field" => "deposit"}, after: {"value" => 5})).to be(false)
    expect(met?("value", "is_not", {"field" => "deposit"}, after: {"value" => 5})).to be(true)
    expect(
      met?(
        "boat_owner.adviser", "is", {"field" => "event.who"}, after: {"boat_owner" => 3},
        linked: {3 => {"adviser" => "hollie"}}
      )
    ).to be(true)
    expect([false, true].map { |exact| met?("title", "is", "quiet hour", exact:) }).to eq([true, false])
    expect(problems_of(a_rule(only_if: all_of(a_condition("value", "more", {"field" => "survey_date"}))))).to match(
      [/which cannot be compared/]
    )
  end

  it "knows what empty means to every operator" do
    true_for_empty = %w[does_not_contain is_empty is_none_of is_not]
    operands = {
      "one" => "x", "many" => ["x"], "pair" => %w[2026-01-01 2026-01-02],
      "span" => {"count" => 1, "unit" => "days"}, "nothing" => nil
    }
    found =
      Yenvo::Core::Operators.all.select do |_, operator|
        next if operator.side != :after

        path = if operator.types.include?("text")
          "title"
        else
          (operator.types.include?("date") ? "survey_date" : "value")
        end
        value = operands[operator.takes.to_s]
        if operator.takes == :one
          value = {"date" => "2026-01-01", "money" => 3}.fetch(deal_fields.find { |one| one.key == path }&.type, value)
        end
        met?(path, operator.name, value, after: {"title" => nil})
      end
    expect(found.map(&:first)).to match_array(true_for_empty)
  end

  it "asks worked-out fields and formulas, also of a linked record" do
    related = {[7, "ticket.boat"] => [{"stage" => "reported"}]}
    expect(met?("open_tickets", "is", 1, related:)).to be(true)
    expect(met?("days_quiet", "at_least", 4, after: {"seen_at" => "2026-11-20T12:00:00.000000Z"})).to be(true)
    expect(met?("= value - deposit", "more", 5, after: {"value" => 12, "deposit" => 3})).to be(true)
    expect(problems_of(a_rule(only_if: all_of(a_condition("open_tickets", "changed"))))).to match(
      [/kept with the record itself/]
    )
    expect(problems_of(watch(when: "record_changed", field: "open_tickets"))).to match(
      [/watch the fields that Open tickets is worked out from/]
    )
    ticket =
      a_rule(
        kind: "ticket", trigger: {"when" => "record_made"},
        only_if: all_of(a_condition("boat.open_tickets", "more", 1)), branches: [a_branch]
      )
    expect(compiled(ticket).needs_to_match).to include(Yenvo::Core::Need.new(chain: ["boat"], over: "ticket.boat"))
  end

  it "plans every action in order, a later one seeing what an earlier one set or made" do
    given =
      booked(
        {"value" => 10, "boat_owner" => 3, "surveyor" => "callum", "survey_date" => "2026-12-03"},
        linked: {3 => {"id" => 3, "title" => "Aldo"}}
      )
    got =
      steps(
        [
          doing(
            "set",
            values: [
              set_to("value", "formula", "value * 2"),
              set_to(
                "survey_date", "date",
                Yenvo::Core::DateRule.new(
                  count: 3, unit: "working_days", direction: "after", from: "event", at: nil, day_off: "later"
                )
              ),
              set_to("seen_at", "now", true)
            ]
          ),
          doing("set", of: "boat_owner", values: [set_to("adviser", "copy", "surveyor")]),
          doing(
            "record", kind: "ticket", values: [set_to("title", "text", "Look at {{ record.value }}")], same: ["owner"],
            link: "boat"
          ),
          a_task(title: "Worth {{ record.value }}", of: "made.3"), doing("move", to: "accepted"),
          doing("notice", assign: {"to" => "several", "persons" => %w[maren hollie]}, text: "{{ record.stage }}")
        ],
        given
      )
    expect(
      got.map { |number, step| [number, step.verb, step.to_h.transform_keys(&:to_sym)] }
    ).to match(
      [
        [1, "change_record", including(record: 7, values: {
          "value" => 20, "survey_date" => "2026-11-27", "seen_at" => "2026-11-24T12:00:00.000000Z"
        })],
        [2, "change_record", including(record: 3, values: {"adviser" => "callum"})],
        [3, "make_record",
          including(kind: "ticket", values: {"title" => "Look at €20", "boat" => 7}, link_to: nil)],
        [4, "make_task", including(title: "Worth €20", about: [:made, 3])],
        [5, "change_record", including(record: 7, values: {"stage" => "accepted"})],
        [6, "tell_persons", including(record: 7, persons: %w[maren hollie], text: "Accepted")]
      ]
    )
  end

  it "does nothing, and says why, where a link is empty" do
    expect(
      steps([doing("set", of: "boat_owner", values: [set_to("adviser", "value", "maren")])]).map do |_, step|
        step.words
      end
    ).to eq(["Nothing to do: Owner of the boat is empty"])
  end

  it "makes a task for each of several persons, and passes over who is away" do
    away = a_calendar(absences: {"callum" => [[Date.new(2026, 11, 20), Date.new(2026, 11, 27)]]})
    rule =
      a_rule(
        branches: [
          a_branch(
            run: [
              a_task(
                assign: {"to" => "several", "persons" => %w[maren callum], "fields" => %w[surveyor owner]},
                fallback: {"to" => "queue", "queue" => "callbacks"}
              )
            ]
          )
        ]
      )
    tasks =
      compiled(rule, calendar: away).plan(booked({"owner" => "hollie"}), now: Builders::NOON) { false }.tasks
        .map { |_, _, task| [task.assignee, task.reason] }
    expect(tasks.map(&:first)).to eq(%w[maren hollie])
    expect(tasks[0][1]).to include("Callum Reyes is away until").and include("Surveyor is empty")
  end

  it "says what is wrong with an action" do
    wrong = {
      doing("set", values: [set_to("open_tickets", "value", 3)]) => /is worked out/,
      doing("set", values: [set_to("made", "now", true)]) => /Yenvo keeps Made itself/,
      doing("set", values: [set_to("value", "formula", "title")]) => /this comes to a text/,
      doing("set", of: "value", values: [set_to("value", "value", 1)]) => /Value is no link/,
      doing("set", of: "made.1", values: [set_to("value", "value", 1)]) => /earlier action of this branch/,
      doing("move", to: "nowhere") => /must be a stage of a deal/,
      doing("list", put: "on", list: "words") => /must name a list/,
      doing("record", kind: "ticket", values: []) => /must set the title/,
      doing("record", kind: "ticket", values: [set_to("title", "text", "x")], link: "due") => /must be a link field/,
      doing("log", way: "shout", text: "x") => /must be one of note/,
      doing("tasks", which: Yenvo::Core::Group.always) => /must change something/,
      doing("tasks", which: all_of(a_condition("stage", "changed")), state: "done") => /the task as it is/,
      doing("notice", assign: {"to" => "queue", "queue" => "callbacks"}, text: "x") => /a queue cannot be one/,
      doing("set", values: [set_to("survey_type", "empty", true), set_to("survey_type", "value", "damage")]) =>
        /each field once/
    }
    wrong.each do |action, sentence|
      expect(problems_of(a_rule(branches: [a_branch(run: [action])]))).to match([sentence])
    end
  end

  it "changes only the record itself before the save" do
    before = {timing: "before_save", trigger: {"when" => "record_made"}}
    expect(
      problems_of(a_rule(**before, branches: [a_branch(run: [doing("set", values: [set_to("value", "value", 1)])])]))
    ).to be_empty
    expect(problems_of(a_rule(**before))).to match(
      [/branches\[1\].do\[1\]: must be one that changes the record itself/]
    )
    stop = ->(**settings) { [a_branch(run: [doing("refuse", text: "No, {{ record.title }}", **settings)])] }
    expect(problems_of(a_rule(**before, branches: stop.call(fields: %w[value])))).to be_empty
    late = problems_of(a_rule(branches: stop.call))
    expect(late).to match([/do\[1\]: must stand in a rule that runs before the save/])
    expect(problems_of(a_rule(**before, branches: stop.call(fields: %w[moon version])))).to match(
      [/fields\[1\]: must be a field that people fill in; "moon"/, /fields\[2\]: .*"version"/]
    )
    expect(
      problems_of(
        a_rule(
          timing: "before_save",
          trigger: {"when" => "code", "code" => "!x"}, branches: [a_branch(run: [doing("move", to: "accepted")])]
        )
      )
    ).to match([/run: must be after_save for this trigger/])
  end

  it "finds all that is wrong with a file's build in one pass, whatever else must not be there" do
    plain =
      a_rule.to_h.merge(
        "colour" => "red", "fuse" => {"per_week" => 1, "per_hour" => 0},
        "trigger" => {"when" => "code", "code" => 3, "shade" => 1}
      )
    plain["branches"] = [
      {
        "if" => {"all" => [{"field" => "value", "test" => "biger"}]},
        "do" => [
          {"action" => "task", "title" => "x", "mood" => 1, "way" => "shout"},
          {"action" => "set", "values" => [{"field" => "value"}]}, {"action" => "dance"}
        ]
      }
    ]
    reader = Yenvo::Core::RuleReader.new
    expect([reader.read(plain), reader.problems.map(&:where)]).to match(
      [
        nil,
        contain_exactly(
          "colour", "fuse.per_week", "fuse.per_hour", "trigger.code", "trigger.shade", "branches[1].if.all[1].test",
          "branches[1].do[1].mood", "branches[1].do[1].way", "branches[1].do[2].values[1]", "branches[1].do[3].action"
        )
      ]
    )
  end

  it "reads rules that were written when tasks were all there was" do
    plain = a_rule.to_h
    plain["branches"][0]["do"] = [{"make" => "task", "title" => "Old", "assign" => {"to" => "owner"}}]
    expect(Yenvo::Core::RuleReader.read!(plain).branches[0].actions[0].title).to eq("Old")
  end
end

RSpec.describe Yenvo::Core::Actions::BoundMakeTask do
  def plan(title) =
    compiled(a_rule(branches: [a_branch(run: [a_task(title:)])])).plan(
      facts(after: {"stage" => "survey_booked", "notes" => @notes}), now: Builders::NOON
    )

  it "makes a task of each line that has words, and says what was left out" do
    lines = Array.new(230) { |i| "Line #{i}" }
    @notes = lines.join("\n")
    tasks = plan("{{ record.notes }}").tasks.map(&:last)
    expect([tasks.size, tasks.first.notes]).to eq([200, ["30 lines beyond the first 200 were left out"]])
    @notes = "x" * 600
    expect(plan("{{ record.notes }}").tasks.map { |_, _, task| [task.title.size, task.notes] }).to eq(
      [[500, ["1 of the titles had more than 500 characters and were cut there"]]]
    )
    problems = []
    Yenvo::Core::CompiledRule
      .bind(a_rule(branches: [a_branch(run: [a_task(title: Array.new(201, "x").join("\n"))])]), a_schema).last
      .each { |problem| problems << problem.text }
    expect(problems).to eq(["must have at most 200 lines, since each becomes a task; this has 201"])
  end

  it "takes lines of blanks of any script, or without width, for empty" do
    @notes = "One\n\u00A0\u3000\n\u200B\u2060\n \t\nTwo\u200B"
    expect(plan("{{ record.notes }}").tasks.map { |_, _, task| task.title }).to eq(%w[One Two])
  end
end
