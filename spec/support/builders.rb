# frozen_string_literal: true

# One builder per noun of the core, with a small boatyard of its own.
module Builders
  include Yenvo

  NOON = Time.utc(2026, 11, 24, 12)

  def field(key, label, type, **more) = Core::Schema::Field.of(key, label, type, **more)

  def a_schema(**changes) = changes.empty? ? @a_schema ||= build_schema : build_schema(**changes)

  def build_schema(calendar: a_calendar, **changes)
    contact =
      Core::Schema::Kind.new(
        key: "contact", label: "Contact", plural: "Contacts", stage_label: "Stage", stages: [],
        fields: [
          field("country", "Country", "choice", choices: [%w[ireland Ireland], %w[france France], %w[norway Norway]]),
          field("adviser", "Adviser", "person"), field("phone", "Phone", "phone"), field("email", "E-mail", "email")
        ]
      )
    stages =
      %w[enquiry quoted survey_booked accepted].map do |key|
        Core::Schema::Choice.new(key:, label: key.tr("_", " ").capitalize)
      end
    deal =
      Core::Schema::Kind.new(
        key: "deal", label: "Deal", plural: "Deals", stage_label: "Stage", stages:, fields: deal_fields
      )
    ticket =
      Core::Schema::Kind.new(
        key: "ticket", label: "Ticket", plural: "Tickets", stage_label: "Status", stages:
          [%w[reported Reported], %w[in_hand In\ hand], %w[closed Closed]].map do |key, label|
            Core::Schema::Choice.new(key:, label:)
          end,
        fields: [
          field("severity", "Severity", "choice", choices: [%w[minor Minor], %w[serious Serious], %w[unsafe Unsafe]]),
          field("boat", "Boat", "link", links_to: "deal"), field("due", "Due", "date"), field("cost", "Cost", "money"),
          field("parent", "Parent ticket", "link", links_to: "ticket")
        ]
      )
    roster =
      Core::Schema::Kind.new(
        key: "entry/launch_roster", label: "Launch", plural: "Launch roster", stage_label: "Section",
        stages: [
          Core::Schema::Choice.new(key: "ashore", label: "Ashore"),
          Core::Schema::Choice.new(key: "afloat", label: "Afloat")
        ],
        fields: [field("about", "Boat", "link", links_to: "deal")]
      )
    people =
      [%w[hollie Hollie\ Banner], %w[callum Callum\ Reyes], %w[maren Maren\ Oduya]].map do |key, name|
        team = (key == "hollie") ? "front_office" : nil
        Core::Schema::Person.new(key:, name:, active: true, team:, email: "#{key}@yard.example", phone: "555 01")
      end
    people << Core::Schema::Person.new(key: "gone", name: "Ada Gone", active: false)
    Core::Schema.new(
      kinds: [contact, deal, ticket, roster], people:, queues: {"callbacks" => "Callbacks"},
      teams: {"front_office" => "Front office"}, zone: "Europe/Dublin", calendar:, addresses: an_address_each, **changes
    )
  end

  # A board and a program that takes calls.
  def an_address_each =
    [
      Core::Schema::Address.new(key: "yard_board", name: "Yard board", way: "board"),
      Core::Schema::Address.new(key: "office", name: "Office", way: "call",
        fields: {"deal" => %w[title value boat_owner], "ticket" => ["title"]})
    ]

  def deal_fields
    [
      field("value", "Value", "money"), field("boat_length", "Boat length", "number", unit: "m"),
      field(
        "survey_type", "Survey type", "choice",
        choices: [%w[pre_purchase Pre-purchase], %w[insurance Insurance], %w[damage Damage]]
      ),
      field("survey_date", "Survey date", "date"), field("surveyor", "Surveyor", "person"),
      field("deposit_in", "Deposit in", "yes_no"),
      field("boat_owner", "Owner of the boat", "link", links_to: "contact"), field("notes", "Notes", "long_text"),
      field("extras", "Extras", "choices", choices: [%w[mast Mast], %w[engine Engine]]),
      field("seen_at", "Seen at", "datetime"),
      field("days_quiet", "Days quiet", "number", formula: "days_between(seen_at, today)"),
      field("open_tickets", "Open tickets", "number", formula: "count(ticket.boat, stage != 'closed')"),
      field("deposit", "Deposit", "money")
    ]
  end

  def a_calendar(**changes)
    yard_shut = Core::DaysOff::Stretch.new(from: Date.new(2026, 12, 24), to: Date.new(2027, 1, 2), name: "Yard shut")
    Core::Calendar.new(zone: "Europe/Dublin", hours: (1..5).to_h { |day| [day, [480, 1050]] },
      days_off: Core::DaysOff.new(region: "ie", stretches: [yard_shut]), **changes)
  end

  def a_condition(field, test, value = nil, **more) =
    Core::Condition.new(field:, test:, value:, **more)

  def all_of(*items) = Core::Group.new(mode: "all", items:)

  def doing(name, **settings) = Core::Actions::Doing.new(name:, settings: settings.compact.transform_keys(&:to_s))

  def set_to(field, by, to) = Core::Actions::Setting.new(field:, by:, to:)

  def a_task(**given) =
    Core::Actions::MakeTask.new(title: "Call the owner", assign: {"to" => "person", "person" => "maren"}, **given)

  def a_branch(*conditions, run: [a_task]) = Core::Branch.new(conditions: all_of(*conditions), actions: run)

  def a_rule(**given)
    usual = {
      name: "Survey booked", kind: "deal", trigger: {"when" => "stage_entered", "stages" => ["survey_booked"]},
      how_often: "every_time", branching: "first", only_if: Core::Group.always, branches: [a_branch], otherwise: nil
    }
    Core::Rule.new(**usual, **given)
  end

  def compiled(rule, calendar: nil, schema: calendar ? a_schema(calendar:) : a_schema, **names) =
    Core::CompiledRule.bind!(rule, schema, **names)

  def an_event(after: {}, before: {}, what: "record_changed", **given)
    usual = {id: 1, kind: "deal", record_id: 7, who: "hollie", at: NOON}
    Core::Event.new(**usual, what:, before:, after: {"title" => "Quiet Hour"}.merge(after), **given)
  end

  def facts(after: {}, before: {}, linked: {}, related: {}, **given) =
    Core::Facts.new(an_event(after:, before:, **given), linked, related)

  # A deal that has just come into Survey booked.
  def booked(after = {}, **given)
    facts(after: {"stage" => "survey_booked"}.merge(after), before: {"stage" => "quoted"}.merge(after), **given)
  end

  def problems_of(rule, schema: a_schema) =
    Core::Checks.run(rule, schema).map { |problem| "#{problem.where}: #{problem.text}" }

  # The kit of eight tasks with parts: three under the hoist, one of which comes after another, one under a decision.
  def self.with_parts(plain, queue)
    part = ->(key, under, title, **more) do
      {"key" => key, "under" => under, "title" => title, "assign" => {"to" => "queue", "queue" => queue}}.merge(
        more.transform_keys(&:to_s)
      )
    end
    ashore = plain["phases"][0]["tasks"]
    ashore.insert(
      1, part.call("crane", "hoist", "Ring the crane"), part.call("slings", "hoist", "Check the slings"),
      part.call("pay", "hoist", "Pay the crane", after: [[{"task" => "crane"}]])
    )
    ashore.insert(ashore.size - 1, part.call("yes_owner", "agreed", "Write to the owner"))
    plain
  end

  # A kit of eight tasks with two decision points, as in a kit file. It counts back from the survey date of the small
  # yard.
  def self.launch_kit(target: "survey_date", queue: "callbacks")
    to_queue = {"to" => "queue", "queue" => queue}
    back = ->(count, unit, **more) do
      {"count" => count, "unit" => unit, "direction" => "before", "from" => "target"}.merge(more.transform_keys(&:to_s))
    end
    comes = ->(count) { {"count" => count, "unit" => "working_days"} }
    task = ->(key, title, assign, due, **more) do
      {"key" => key, "title" => title, "assign" => assign, "due" => due}.merge(
        (assign == to_queue) ? {} : {"fallback" => to_queue}
      ).merge(more.transform_keys(&:to_s))
    end
    after = ->(*ways) { ways.map { |way| way.map { |key, answer| {"task" => key, "answer" => answer}.compact } } }
    owner = {"to" => "owner"}
    {
      "format" => "yenvo-kit/1", "name" => "Launch", "record" => "deal", "count" => "back", "from" => target,
      "day_off" => "earlier",
      "phases" => [
        {
          "name" => "Ashore",
          "tasks" => [
            task.call("hoist", "Book a hoist slot for {{ record.title }}", to_queue, back.call(30, "days")),
            task.call(
              "hull", "Look over the hull", {"to" => "field", "field" => "surveyor"}, back.call(21, "days"),
              answers: ["Sound", "Needs work", "Unsafe"]
            ),
            task.call(
              "quote", "Quote the extra work", owner, comes.call(2), after: after.call([["hull", "Needs work"]])
            ),
            task.call(
              "agreed", "Did the owner agree?", owner, comes.call(5), answers: %w[Yes No Silent],
              after: after.call([["quote"]])
            ),
            task.call(
              "stop", "Stop the launch, tell the owner", {"to" => "person", "person" => "maren"}, comes.call(0),
              after: after.call([%w[hull Unsafe]], [%w[agreed No]])
            )
          ]
        },
        {
          "name" => "Going in",
          "tasks" => [
            task.call(
              "antifoul", "Antifoul", to_queue, back.call(5, "working_days"),
              after: after.call([%w[hull Sound]], [%w[agreed Yes]])
            ),
            task.call(
              "mast", "Step the mast", to_queue, back.call(2, "working_days"), after: after.call([["antifoul"]])
            ),
            task.call(
              "launch", "Launch", to_queue, back.call(0, "days", at: "10:00"), after: after.call([["hoist"], ["mast"]])
            )
          ]
        }
      ]
    }
  end
end
