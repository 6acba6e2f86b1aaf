# frozen_string_literal: true

# Rules and facts by chance, for properties: the same seed always gives the same. They fit Builders#a_schema.
class Arbitrary
  Core = Yenvo::Core
  VALUES = {
    "money" => [0, 10, 9.5, 12_900, -3], "number" => [12, 9.1, 13.4, 0],
    "choice" => {
      "survey_type" => %w[pre_purchase insurance damage], "stage" => %w[enquiry quoted survey_booked accepted],
      "boat_owner.country" => %w[ireland france norway]
    },
    "date" => %w[2026-12-03 2026-11-24 2027-02-28],
    "datetime" => %w[2026-12-03T09:00:00.000000Z 2026-11-24T12:00:00.000000Z], "person" => %w[hollie callum maren],
    "yes_no" => [true, false], "link" => [3, 4], "long_text" => ["urgent please", "No hurry", "ÄRGER"],
    "choices" => %w[mast engine], "text" => ["Quiet Hour", "Sallow", "quiet hour"]
  }.freeze
  SPANS = [
    {"count" => 3, "unit" => "working_days"}, {"count" => 1, "unit" => "months"},
    {"count" => 5, "unit" => "working_hours"}, {"count" => 90, "unit" => "minutes"}, {"count" => 2, "unit" => "weeks"}
  ].freeze
  FORMULAS = [
    "= value - deposit", "= count(ticket.boat, severity = 'unsafe')", "= survey_date - 3", "= contains(title, 'quiet')"
  ].freeze
  RECORD_FIELDS = %w[
    value
    boat_length
    survey_type
    survey_date
    surveyor
    deposit_in
    boat_owner
    notes
    extras
    seen_at
    stage
    title
    boat_owner.country
    boat_owner.title
    boat_owner.adviser
    days_quiet
    open_tickets
  ].freeze
  FIELDS = %w[
    value
    boat_length
    survey_type
    survey_date
    surveyor
    deposit_in
    boat_owner
    notes
    extras
    seen_at
    stage
    title
    boat_owner.country
    boat_owner.title
    boat_owner.adviser
    event.who
    event.at
    event.since
    before.stage
    before.value
    today
    days_quiet
    open_tickets
  ].concat(FORMULAS).freeze

  def initialize(seed, schema)
    @chance = Random.new(seed)
    @schema = schema
    @kind = schema.kind("deal")
  end

  def some(list) = list[@chance.rand(list.size)]
  def chance(share) = @chance.rand < share

  def value(path, field)
    known = VALUES.fetch(field.type)
    some(known.is_a?(Hash) ? known.fetch(path.delete_prefix("before.")) : known)
  end

  def condition
    path = some(FIELDS)
    side = Core::Sides.find(path, @kind, @schema).first
    name, operator =
      some(
        Core::Operators.all.select do |_, one|
          one.types.include?(side.field.type) && (one.side == :after || side.before_getter)
        end
      )
    operand = case operator.takes
    when :one then compared(operator, side) || value(path, side.field)
    when :many then Array.new(@chance.rand(1..3)) { value(path, side.field) }.uniq
    when :pair then [value(path, side.field), value(path, side.field)].sort
    when :span then some(SPANS)
    end
    Core::Condition.new(field: path, test: name, value: operand, exact: side.field.textual? && chance(0.3))
  end

  # Another field to hold it against, now and then.
  def compared(operator, side)
    return unless operator.side == :after && chance(0.2)

    others =
      FIELDS.select do |path|
        Core::Operands.family(Core::Sides.find(path, @kind, @schema).first.field) == Core::Operands.family(side.field)
      end
    {"field" => some(others)}
  end

  def group(depth = 0)
    items = Array.new(@chance.rand(0..3)) { (depth < 2 && chance(0.3)) ? group(depth + 1) : condition }
    Core::Group.new(mode: some(Core::Group::MODES), items:)
  end

  def trigger
    some(
      [
        {"when" => "record_made"}, {"when" => "record_changed"}, {"when" => "record_changed", "field" => "value"},
        {
          "when" => "record_changed", "field" => "survey_type", "from" => ["insurance"], "to" => %w[damage pre_purchase]
        },
        {"when" => "stage_entered", "stages" => [some(%w[quoted survey_booked]), "accepted"]},
        {"when" => "stage_left", "stages" => ["enquiry"]}, {"when" => "linked", "kinds" => ["ticket"]},
        {"when" => "put_on_list", "lists" => ["launch_roster"]},
        {"when" => "interaction_logged", "ways" => %w[note call]}, {"when" => "form_sent"}, {"when" => "message_in"},
        {"when" => "mail_in"}, {"when" => "interaction_logged", "answered" => true}, {"when" => "merged"},
        {"when" => "by_hand"},
        {
          "when" => "code", "code" => "!haul", "persons" => ["hollie"], "teams" => ["front_office"],
          "roles" => ["surveyor"]
        },
        {"when" => "code", "code" => "!lift"}, {"when" => "task_made"}, {"when" => "task_changed", "what" => ["due"]},
        {"when" => "task_done", "answers" => %w[Yes No], "parts" => true}, {"when" => "task_dropped"},
        {"when" => "task_late"},
        {
          "when" => "date_timer",
          "date" => {
            "count" => 3, "unit" => some(%w[days working_days hours]), "direction" => "before",
            "from" => some(%w[survey_date boat_owner.made]), "day_off" => "stays"
          }
        },
        {
          "when" => "date_timer",
          "date" => {
            "count" => 1, "unit" => "working_days", "direction" => "after", "from" => "due", "at" => "09:00",
            "day_off" => "later"
          },
          "task" => true
        },
        {
          "when" => "quiet_timer", "nothing" => [some(%w[contact note]), "change"], "fields" => ["value"],
          "span" => {"count" => 5, "unit" => some(%w[working_days hours])}, "people" => true
        },
        {"when" => "quiet_timer", "span" => {"count" => 2, "unit" => "days"}, "at" => "09:00", "task" => true},
        {
          "when" => "schedule", "recurs" => some(%w[FREQ=MONTHLY;BYMONTHDAY=1 FREQ=WEEKLY;BYDAY=MO,TH;COUNT=9]),
          "starts" => "2026-01-01", "at" => "08:00", "once" => true
        }
      ]
    )
  end

  def date_rule(from: some(%w[now event survey_date]))
    rule =
      Core::DateRule.new(
        count: @chance.rand(0..30), unit: some(Core::DateRule::UNITS), direction: some(Core::DateRule::DIRECTIONS),
        from:, at: nil, day_off: some(Core::DateRule::DAY_OFF)
      )
    rule = rule.with(otherwise: date_rule(from: some(%w[now event]))) if from == "survey_date" && chance(0.3)
    return rule if rule.clocked?

    rule = rule.with(first: some([*Core::DateRule::FIRST, 1, 15, 31])) if chance(0.3)
    chance(0.5) ? rule.with(at: some(%w[09:00 17:30 00:15])) : rule
  end

  def task
    Core::Actions::MakeTask.new(
      title: some(["Call the owner", "Book: {{ record.title }}", "# 1 is \"quoted\"", "yes"]),
      text: some([nil, "Line one\nline two", "key: value"]), way: some(Core::Schema::TaskField::WAYS),
      priority: some(Core::Schema::TaskField::PRIORITIES), assign: {"to" => "owner"},
      fallback: some([{"to" => "queue", "queue" => "callbacks"}, {"to" => "person", "person" => "maren"}]),
      due: chance(0.7) ? date_rule : nil, remind: chance(0.2) ? date_rule : nil,
      answers: chance(0.4) ? %w[Yes No 1] : [], place: chance(0.2) ? 3 : nil
    )
  end

  def doing(name, **settings) = Core::Actions::Doing.new(name:, settings: settings.compact.transform_keys(&:to_s))
  def setting(field, by, to) = Core::Actions::Setting.new(field:, by:, to:)

  def action
    owner = {"to" => "owner"}
    maren = {"to" => "person", "person" => "maren"}
    some(
      [
        task, task,
        task.with(
          assign: {"to" => "several", "persons" => %w[maren hollie], "fields" => ["surveyor"]},
          of: some([nil, "boat_owner"])
        ),
        doing(
          "set",
          values: [
            setting("survey_type", "value", "damage"), setting("survey_date", "date", date_rule),
            setting("value", "formula", "value * 2"), setting("seen_at", "now", true)
          ]
        ),
        doing(
          "set", of: "boat_owner", values: [setting("adviser", "copy", "surveyor"), setting("country", "empty", true)]
        ),
        doing("assign", assign: owner, fallback: maren, field: "surveyor"), doing("move", to: "accepted"),
        doing("list", put: some(%w[on off]), list: "launch_roster"),
        doing(
          "record", kind: "ticket",
          values: [setting("title", "text", "About {{ record.title }}"), setting("due", "copy", "survey_date")],
          same: ["owner"], link: "boat"
        ),
        doing("wait", for: wait_for, until: chance(0.5) ? steady : nil, limit: wait_for, at_limit: some([nil, "stop"])),
        doing("log", way: "note", text: "Seen: {{ record.value }}"),
        doing("notice", assign: maren, text: "Look at {{ record.title }}"),
        doing(
          "tasks", which:
            Core::Group.new(
              mode: "all", items: [Core::Condition.new(field: "priority", test: "is_not", value: "urgent")]
            ),
          priority: "urgent", due: date_rule, state: some([nil, "dropped"])
        )
      ]
    )
  end

  def wait_for =
    Core::DateRule.new(
      count: @chance.rand(0..9), unit: some(Core::DateRule::UNITS), direction: "after", from: "now", at: nil,
      day_off: some(Core::DateRule::DAY_OFF)
    )

  def steady =
    Core::Group.new(mode: some(%w[all any]), items: [Core::Condition.new(field: "deposit_in", test: "is", value: true)])

  # A ladder stands behind the task that climbs it.
  def ladder
    steps =
      Array.new(@chance.rand(1..3)) do
        Core::Actions::LadderStep.new(
          after: wait_for.with(from: some(%w[due made now])), does: some(%w[remind raise drop]),
          text: some([nil, "Still open: {{ record.title }}"])
        )
      end
    if chance(0.5)
      steps << Core::Actions::LadderStep.new(
        after: wait_for.with(from: "due"), does: "pass_on", assign: {"to" => "owner"},
        fallback: {"to" => "queue", "queue" => "callbacks"}
      )
    end
    doing("ladder", steps:)
  end

  # What a rule may do before the record is saved.
  def own_change =
    some(
      [
        doing("set", values: [setting("survey_type", "value", "damage")]), doing("move", to: "accepted"),
        doing("assign", assign: {"to" => "owner"}, fallback: {"to" => "person", "person" => "maren"})
      ]
    )

  # At times several, which differ and of which at most one is a timer.
  def triggers
    all = Array.new(chance(0.3) ? 3 : 1) { trigger }.uniq
    timed, others = all.partition { |one| one["when"].match?(/timer|schedule/) }
    others.delete({"when" => "record_changed"}) if timed.any? && others.any?
    all = others + timed.first(1).map { |one| others.any? ? one.except("once") : one }
    (all.size == 1) ? all[0] : {"any" => all}
  end

  def rule
    watch = triggers
    types = (watch["any"] || [watch]).map { |one| Core::Triggers.all.fetch(one["when"]) }
    early = chance(0.1) && types.all? { |type| type.allocate.before_save? }
    branches =
      Array.new(@chance.rand(1..4)) do
        Core::Branch.new(
          conditions: group, actions:
            if early
              [own_change]
            else
              [*Array.new(@chance.rand(1..2)) { action }, *(chance(0.2) ? [task, ladder] : [])]
            end
        )
      end
    Core::Rule.new(
      name: some(["Survey booked: get ready", "null", "A – B", "x" * 120]), kind: "deal", trigger: watch,
      timing: early ? "before_save" : "after_save", every_days: 5,
      fuse: some([nil, {"per_hour" => 5}, {"per_hour" => 100, "per_record_day" => 3}]),
      how_often: some(Core::Rule::HOW_OFTEN - (types.all?(&:task?) ? [] : ["once_per_task"])),
      branching: some(Core::Rule::BRANCHING), only_if: chance(0.5) ? group : Core::Group.always, branches:,
      otherwise: ([early ? own_change : task] if chance(0.5))
    )
  end

  # @return [Hash] image of a deal, some of its fields empty
  def image
    fields = @kind.fields.values.reject(&:worked_out?).map(&:key) - %w[creator made changed last_contact stage_since]
    fields.each_with_object({}) do |key, image|
      next if chance(0.25)

      field = @kind.field(key)
      image[key] = if field.type == "choices"
        VALUES["choices"].select { chance(0.5) }.then { |all| all.empty? ? nil : all }
      else
        value(key, field)
      end
    end.compact
  end

  def facts
    made = chance(0.2)
    before = made ? {} : image
    after = chance(0.3) ? before.merge(image.first(2).to_h) : image
    after = image if after.empty?
    linked = {
      3 => {"id" => 3, "title" => "Aldo Ferrant", "country" => some(%w[ireland norway]), "adviser" => "hollie"},
      4 => {"id" => 4, "title" => "Ilse Brandt"}
    }
    what =
      (
        if made
          "record_made"
        else
          some(
            %w[
              record_changed
              record_changed
              record_changed
              linked
              put_on_list
              interaction_logged
              note_edited
              task_made
              task_changed
              task_done
              task_dropped
              task_late
            ]
          )
        end
      )
    before = after unless made || what == "record_changed"
    after = after.merge("id" => 7)
    event =
      Core::Event.new(
        id: 1, what:,
        detail: {
          "kind" => "ticket", "list" => "launch_roster", "way" => some(%w[note call]),
          "text" => some(["Please !haul it", "nothing", "> !haul\nno"]), "was" => some(["", "!haul"]),
          "changed" => some([["due"], ["state"]]),
          "task" => {
            "id" => 9, "title" => "Call", "priority" => some(%w[low urgent]), "answer" => some(["Yes", nil]),
            "assignee" => "hollie", "part" => some([true, false])
          },
          "door" => made ? some([nil, "form", "message"]) : nil
        },
        kind: "deal", record_id: 7, before:, after:, who: some(["hollie", nil]), at: Builders::NOON,
        depth: some([0, 0, 0, 7, 8]), cause_rule: some([nil, nil, 5])
      )
    Core::Facts.new(
      event, linked,
      {
        [7, "ticket.boat"] =>
          Array.new(@chance.rand(0..3)) do
            {"stage" => some(%w[reported closed]), "severity" => some(%w[minor unsafe])}
          end
      }
    )
  end
end
