# frozen_string_literal: true

# What lies ahead of a record: the core carried forward on a copy.
RSpec.describe "Ahead" do
  def date_timer(count, from, **more) =
    {
      "when" => "date_timer",
      "date" => {
        "count" => count, "unit" => "days", "direction" => "before", "from" => from, "at" => "08:00",
        "day_off" => "stays"
      }.merge(more.transform_keys(&:to_s))
    }

  def ahead(record, days: 60, now: Database::NOW, **more) =
    Yenvo::Engine::LookingAhead.new(root, now:).on(record, days:, **more)

  def shown(result) =
    result.items.map { |item| "#{root.calendar.zone.local(item.at).strftime("%-d %b %H:%M")} #{item.words}" }

  def ladder(*steps) =
    {
      "action" => "ladder", "steps" =>
        steps.map do |count, does, more|
          {
            "after" => {"count" => count, "unit" => "days", "from" => "due", "at" => "09:00", "day_off" => "stays"},
            "do" => does, **(more || {})
          }
        end
    }

  def counts = %i[journal tasks runs timers waiting notices jobs].to_h { |table| [table, db[table].count] }

  it "shows what comes, in order, with its rule, what it hangs on, and the chain: a task that comes, grows late and " \
    "climbs its ladder" do
    rule(
      date_timer(5, "launch_date"),
      task("Hoist", due: {"count" => 1, "unit" => "days", "at" => "12:00", "day_off" => "stays"}),
      ladder([1, "raise"], [2, "pass_on", {"assign" => {"to" => "person", "person" => "tobias"}}]), name: "Hoist",
      only_if: {"all" => [{"field" => "deposit_in", "test" => "is_not", "value" => true}]}
    )
    rule(
      {"when" => "task_late"},
      {"action" => "notice", "assign" => {"to" => "person", "person" => "maren"}, "text" => "Late: {{ task.title }}"},
      name: "Late"
    )
    deal = make("deal", "launch_date" => "2026-12-10")["id"]
    work
    before = counts
    result = ahead(deal)
    expect(shown(result)).to eq(
      [
        "5 Dec 08:00 Task “Hoist”", "6 Dec 12:00 “Hoist” gets late", "6 Dec 12:00 Maren Oduya is told: Late: Hoist",
        "7 Dec 09:00 “Hoist” raised from Normal to High", "8 Dec 09:00 “Hoist” passed to Tobias Kell"
      ]
    )
    first = result.items[0]
    expect(
      [first.rule[1], first.depends, first.who, first.chained, result.items[2].after, result.items[3].after]
    ).to eq(["Hoist", ["Deposit in is not yes"], "wen", false, "“Hoist”", "if “Hoist” is still open"])
    expect(counts).to eq(before)
    expect(ahead(deal, days: 7).items).to be_empty
  end

  it "says what a change would bring and take away" do
    rule(date_timer(5, "launch_date"), task("Hoist"))
    rule(
      {"when" => "stage_entered", "stages" => ["accepted"]}, task("Thank the owner"),
      {
        "action" => "wait",
        "for" => {"count" => 3, "unit" => "days", "from" => "now", "at" => "09:00", "day_off" => "stays"}
      },
      task("Ask again")
    )
    deal = make("deal", "launch_date" => "2026-12-10")["id"]
    work
    now, then_ =
      Yenvo::Engine::LookingAhead.new(root, now: Database::NOW).compared(
        deal, days: 60, change: {"stage" => "accepted", "launch_date" => "2026-12-20"}, who: "hollie"
      )
    expect(shown(now)).to eq(["5 Dec 08:00 Task “Hoist”"])
    expect(shown(then_)).to match(
      [
        /24 Nov 12:00 Task “Thank the owner”/, /24 Nov 12:00 Waits for 3 days/, /27 Nov 09:00 Task “Ask again”/,
        /15 Dec 08:00 Task “Hoist”/
      ]
    )
    expect(root.records.find!(deal)["stage"]).to eq("enquiry")
  end

  it "carries kits on: their tasks come, and move with their target" do
    %w[11-rigging-job 12-launch].each { |name| publish_demo_kit(name) }
    rule(date_timer(30, "launch_date"), {"action" => "kit", "kit" => "launch"})
    deal = make("deal", "launch_date" => "2027-01-20", "stage" => "in_the_yard")["id"]
    work
    result = ahead(deal)
    expect(result.items.map(&:what)).to include("kit", "task")
    pass(to: [2026, 12, 23])
    moved =
      Yenvo::Engine::LookingAhead.new(root, now: Time.utc(2026, 12, 23)).on(
        deal, days: 1, change: {"launch_date" => "2027-02-20"}, who: "hollie"
      )
    expect(moved.items.map(&:words)).to include(match(/moves to .* with the kit/))
  end

  it "comes to an end where rules set each other off for ever, and where there is too much" do
    rule(
      {"when" => "schedule", "recurs" => "FREQ=DAILY", "starts" => "2026-01-01", "at" => "08:00"},
      *Array.new(5) { |i| task("T#{i}") }
    )
    deal = make("deal")["id"]
    result = ahead(deal, days: 180)
    expect([result.items.size, result.cut]).to eq([Yenvo::Core::Ahead::MOST_ITEMS, true])
  end

  # Rules of all that time does, put together by chance; then the real clock goes over the same days.
  describe "holds true" do
    def chance_rule(chance)
      some = ->(list) { list[chance.rand(list.size)] }
      span = -> { {"count" => chance.rand(1..6), "unit" => some.call(%w[days working_days hours]), "from" => "now"} }
      triggers = [
        date_timer(
          chance.rand(0..20), "launch_date", unit: some.call(%w[days working_days]),
          day_off: some.call(%w[later earlier stays])
        ),
        date_timer(chance.rand(0..10), "survey_date", direction: "after"),
        {
          "when" => "date_timer",
          "date" => {"count" => chance.rand(1..5), "unit" => "working_days", "from" => "due", "direction" => "after"},
          "task" => true
        },
        {
          "when" => "quiet_timer", "nothing" => some.call([%w[contact], %w[change stage], %w[task_done note]]),
          "span" => {"count" => chance.rand(1..9), "unit" => "working_days"}
        },
        {
          "when" => "schedule",
          "recurs" => some.call(%w[FREQ=WEEKLY;BYDAY=MO FREQ=MONTHLY;BYMONTHDAY=-1 FREQ=DAILY;INTERVAL=9]),
          "starts" => "2026-01-01", "at" => "08:00"
        },
        {"when" => "record_changed"}, {"when" => "task_made"}, {"when" => "task_late"},
        {"when" => "task_changed", "what" => ["priority"]},
        {"when" => "stage_entered", "stages" => %w[quoted accepted]}, {"when" => "interaction_logged"}
      ]
      trigger = some.call(triggers)
      actions =
        Array.new(chance.rand(1..3)) do
          some.call(
            [
              task(
                "T#{chance.rand(9)}",
                due: some.call([nil, {"count" => chance.rand(0..4), "unit" => "working_days", "at" => "09:00"}])
              ),
              task("P#{chance.rand(9)}", due: {"count" => 2, "unit" => "days"}),
              {"action" => "move", "to" => some.call(%w[quoted accepted])},
              {
                "action" => "set",
                "values" => [
                  {
                    "field" => "launch_date",
                    "date" => {"count" => chance.rand(3..15), "unit" => "days", "from" => "now"}
                  }
                ]
              },
              {"action" => "log", "way" => some.call(%w[note call]), "text" => "Seen"},
              {"action" => "wait", "for" => span.call},
              {
                "action" => "wait", "until" => {"all" => [{"field" => "stage", "test" => "is", "value" => "accepted"}]},
                "limit" => span.call, "at_limit" => some.call(%w[go_on stop])
              },
              {"action" => "tasks", "priority" => some.call(%w[low high urgent])},
              {
                "action" => "tasks",
                "which" => {"all" => [{"field" => "late", "test" => "is", "value" => true}]}, "state" => "dropped"
              },
              {"action" => "notice", "assign" => {"to" => "person", "person" => "maren"}, "text" => "Look"},
              {"action" => "kit", "kit" => "lost-deal-tidy-up"}
            ]
          )
        end
      if (at = actions.index { |action| action["action"] == "task" })
        if chance.rand < 0.6
          actions.insert(
            at + 1,
            ladder(
              *[
                [1, "remind"], [2, "raise"], [3, "pass_on", {"assign" => {"to" => "person", "person" => "tobias"}}],
                [4, "drop"]
              ].first(chance.rand(1..4))
            )
          )
        end
      end
      condition =
        some.call(
          [
            nil, nil, {"field" => "stage", "test" => "is_not", "value" => "lost"},
            {"field" => "days_quiet", "test" => "at_least", "value" => chance.rand(2..9)},
            {"field" => "launch_date", "test" => "within_next", "value" => {"count" => 9, "unit" => "days"}}
          ]
        )
      daily = trigger["when"] == "record_changed" && condition && condition["field"] == "stage"
      {
        "name" => "R#{chance.rand(1_000)}", "trigger" => trigger,
        "how_often" => some.call(%w[every_time once_per_record once_per_visit]), "branches" => [{"do" => actions}],
        "only_if" => {"all" => [condition].compact}
      }.merge(daily ? {"how_often" => "once_per_record"} : {})
    end

    # What the journal and the runs say happened, in the words of what lies ahead.
    def happened(deal, after)
      made = db[:journal].where(record_id: deal).where { id > after }.order(:id).all
      made.filter_map do |row|
        detail = JSON.parse(row[:detail] || "{}")
        if %w[task_made task_late task_dropped].include?(row[:what])
          next row[:at].round, row[:what], detail["title"] || detail.dig("task", "title")
        end
        if row[:what] == "record_changed"
          next row[:at].round, row[:what], JSON.parse(row[:after]).values_at("stage", "launch_date")
        end

        [row[:at].round, row[:what], detail["way"]] if row[:what] == "interaction_logged"
      end
    end

    def foretold(deal, days)
      looking = Yenvo::Engine::LookingAhead.new(root, now: Database::NOW)
      seen = []
      allow_any_instance_of(Yenvo::Core::Ahead::Copy).to receive(
        :happened
      ).and_wrap_original do |original, what, at, **given|
        copy = original.receiver
        image = given[:after] || copy.image
        if %w[task_made task_late task_dropped record_changed interaction_logged].include?(what)
          seen << [
            at.round, what,
            {
              "task_made" => given[:task]&.image&.fetch("title", nil),
              "task_late" => given[:task]&.image&.fetch("title", nil),
              "task_dropped" => given[:task]&.image&.fetch("title", nil),
              "record_changed" => image.values_at("stage", "launch_date"),
              "interaction_logged" => given.dig(:detail, "way")
            }[what]
          ]
        end
        original.call(what, at, **given)
      end
      result = looking.on(deal, days:)
      [seen, result]
    end

    it "for tasks that get late in the same moment: the one made first comes first" do
      deal = make("deal")["id"]
      titles = Array.new(12) { |i| "T#{i}" }
      titles.each do |title|
        root.tasks.make({"title" => title, "record_id" => deal, "assignee" => "osk", "due_on" => "2026-11-27"}, cause:)
      end
      said, = foretold(deal, 5)
      last = db[:journal].max(:id)
      pass(to: Database::NOW + (5 * 86_400))
      expect(said).to eq(happened(deal, last))
      expect(said.map(&:last)).to eq(titles)
    end

    12.times do |seed|
      it "for the rules of chance #{seed}" do
        chance = Random.new(seed + ENV.fetch("AHEAD_SEED", "0").to_i)
        publish_demo_kit("16-lost-deal-tidy-up")
        if chance.rand < 0.4
          publish(
            "name" => "Early", "run" => "before_save", "trigger" => {"when" => "stage_entered", "stages" => ["quoted"]},
            "branches" => [
              {"do" => [{"action" => "set", "values" => [{"field" => "launch_date", "value" => "2026-12-13"}]}]}
            ]
          )
        end
        rand = chance.rand(2..5)
        rand.times { publish(chance_rule(chance)) }
        deal =
          make(
            "deal", "launch_date" => (Date.new(2026, 12, 1) + chance.rand(0..40)).iso8601,
            "survey_date" => "2026-12-03", "stage" => %w[enquiry lost].sample(random: chance)
          )["id"]
        root.tasks.make(
          {"title" => "Mine", "record_id" => deal, "assignee" => "hollie", "due_on" => "2026-11-27"}, cause:
        )
        root.interactions.log(deal, "call", "Hello.", cause:)
        work(at: Database::NOW)
        said, result = foretold(deal, 21)
        last = db[:journal].max(:id)
        pass(to: Database::NOW + (21 * 86_400))
        # What is cut off says no more, but what it says holds.
        happened = happened(deal, last)
        expect(said).to eq(result.cut ? happened.first(said.size) : happened)
      end
    end
  end
end
