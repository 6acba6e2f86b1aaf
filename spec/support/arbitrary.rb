# frozen_string_literal: true

# Rules and facts by chance, for properties: the same seed always gives the same. They fit Builders#a_schema.
class Arbitrary
  Core = Yenvo::Core
  VALUES = {
    "money" => [0, 10, 9.5, 12_900, -3], "number" => [12, 9.1, 13.4, 0], "choice" => {"survey_type" => %w[pre_purchase insurance damage], "stage" => %w[enquiry quoted survey_booked accepted], "boat_owner.country" => %w[ireland france norway]},
    "date" => %w[2026-12-03 2026-11-24 2027-02-28], "datetime" => %w[2026-12-03T09:00:00.000000Z 2026-11-24T12:00:00.000000Z], "person" => %w[hollie callum maren], "yes_no" => [true, false],
    "link" => [3, 4], "long_text" => ["urgent please", "No hurry", "ÄRGER"], "choices" => %w[mast engine], "text" => ["Quiet Hour", "Sallow", "quiet hour"]
  }.freeze
  FIELDS = %w[value boat_length survey_type survey_date surveyor deposit_in boat_owner notes extras seen_at stage title boat_owner.country boat_owner.title boat_owner.adviser].freeze

  def initialize(seed, schema)
    @chance = Random.new(seed)
    @schema = schema
    @kind = schema.kind("deal")
  end

  def some(list) = list[@chance.rand(list.size)]
  def chance(share) = @chance.rand < share

  def value(path, field)
    known = VALUES.fetch(field.type)
    some(known.is_a?(Hash) ? known.fetch(path) : known)
  end

  def condition
    path = some(FIELDS)
    field = Core::Reference.find(path, @kind, @schema).first.field
    name, operator = some(Core::Operators.all.select { |_, one| one.types.include?(field.type) && (one.side == :after || !path.include?(".")) })
    operand = case operator.takes
    when :one then value(path, field)
    when :many then Array.new(@chance.rand(1..3)) { value(path, field) }.uniq
    when :pair then [value(path, field), value(path, field)].sort
    end
    Core::Condition.new(field: path, test: name, value: operand)
  end

  def group(depth = 0)
    items = Array.new(@chance.rand(0..3)) { (depth < 2 && chance(0.3)) ? group(depth + 1) : condition }
    Core::Group.new(mode: some(Core::Group::MODES), items: items)
  end

  def trigger
    some([{"when" => "record_made"}, {"when" => "record_changed"}, {"when" => "record_changed", "field" => "value"},
      {"when" => "record_changed", "field" => "survey_type", "from" => ["insurance"], "to" => %w[damage pre_purchase]},
      {"when" => "stage_entered", "stages" => [some(%w[quoted survey_booked]), "accepted"]}, {"when" => "stage_left", "stages" => ["enquiry"]}])
  end

  def date_rule
    Core::DateRule.new(count: @chance.rand(0..30), unit: some(Core::DateRule::UNITS), direction: some(Core::DateRule::DIRECTIONS), from: some(%w[now event survey_date]), at: nil, day_off: some(Core::DateRule::DAY_OFF))
      .then { |rule| (chance(0.5) && !rule.clocked?) ? rule.with(at: some(%w[09:00 17:30 00:15])) : rule }
  end

  def task
    Core::Actions::MakeTask.of(title: some(["Call the owner", "Book: {{ record.title }}", "# 1 is \"quoted\"", "yes"]), text: some([nil, "Line one\nline two", "key: value"]), way: some(Core::Actions::MakeTask::WAYS),
      priority: some(Core::Actions::MakeTask::PRIORITIES), assign: {"to" => "owner"}, fallback: some([{"to" => "queue", "queue" => "callbacks"}, {"to" => "person", "person" => "maren"}]),
      due: chance(0.7) ? date_rule : nil, remind: chance(0.2) ? date_rule : nil, answers: chance(0.4) ? %w[Yes No 1] : [], place: chance(0.2) ? 3 : nil)
  end

  def rule
    branches = Array.new(@chance.rand(1..4)) { Core::Branch.new(conditions: group, actions: Array.new(@chance.rand(1..2)) { task }) }
    Core::Rule.new(name: some(["Survey booked: get ready", "null", "A – B", "x" * 120]), kind: "deal", trigger: trigger, how_often: some(Core::Rule::HOW_OFTEN), branching: some(Core::Rule::BRANCHING),
      only_if: chance(0.5) ? group : Core::Group.always, branches: branches, otherwise: chance(0.5) ? [task] : nil)
  end

  # @return [Hash] image of a deal, some of its fields empty
  def image
    fields = @kind.fields.keys - %w[creator made changed last_contact]
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
    linked = {3 => {"id" => 3, "title" => "Aldo Ferrant", "country" => some(%w[ireland norway]), "adviser" => "hollie"}, 4 => {"id" => 4, "title" => "Ilse Brandt"}}
    event = Core::Event.new(id: 1, what: made ? "record_made" : "record_changed", kind: "deal", record_id: 7, before: before, after: after, who: some(["hollie", nil]), at: Builders::NOON, depth: some([0, 0, 0, 7, 8]), cause_rule: some([nil, nil, 5]))
    Core::Facts.new(event, linked)
  end
end
