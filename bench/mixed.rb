# frozen_string_literal: true

# Rules as an office writes them: one to four conditions on choices, numbers, texts and yes/no, some in a nested any,
# all watching a few hot fields; and beside them the same rules as plain closures behind one hash on kind, trigger,
# field and new value, as somebody would write them who has nothing but Ruby. About two rules match an event.
module Mixed
  KINDS = 2
  HOT = 4
  NEW_VALUES = 3
  CHOICES = 12
  EVENTS = 3_000
  WORDS = %w[hull mast sail keel deck boom rope winch].freeze
  Core = Yenvo::Core

  module_function

  def schema
    choices = ->(count) { Array.new(count) { |i| ["v#{i}", "Value #{i}"] } }
    field = ->(*given, **more) { Core::Schema::Field.of(*given, **more) }
    fields =
      Array.new(HOT) { |i| field.call("hot#{i}", "Hot #{i}", "choice", choices: choices.call(NEW_VALUES)) } +
      Array.new(3) { |i| field.call("pick#{i}", "Pick #{i}", "choice", choices: choices.call(CHOICES)) } +
      [
        field.call("size", "Size", "number"), field.call("cost", "Cost", "number"),
        field.call("words", "Words", "text"), field.call("paid", "Paid", "yes_no"), field.call("dry", "Dry", "yes_no")
      ]
    kinds =
      Array.new(KINDS) do |i|
        Core::Schema::Kind.new(
          key: "k#{i}", label: "Kind #{i}", plural: "Kinds", stage_label: "Stage", stages: [], fields:
        )
      end
    Core::Schema.new(kinds:, queues: {"q" => "Queue"})
  end

  # Each way to ask: field, test, operand; what fits it; and the plain closure.
  def condition(chance)
    case chance.rand(8)
    when 0, 1, 2
      key, value = "pick#{chance.rand(3)}", "v#{chance.rand(CHOICES)}"
      [[key, "is", value], {key => value}, ->(image) { image[key] == value }]
    when 3
      key = "pick#{chance.rand(3)}"
      values = Array.new(2) { "v#{chance.rand(CHOICES)}" }.uniq
      [[key, "is_one_of", values], {key => values[0]}, ->(image) { values.include?(image[key]) }]
    when 4
      key, least = %w[size cost].sample(random: chance), chance.rand(50..95)
      [[key, "at_least", least], {key => least}, ->(image) { (one = image[key]) && one >= least }]
    when 5
      key, low = %w[size cost].sample(random: chance), chance.rand(80)
      fits = ->(image) { (one = image[key]) && one.between?(low, low + 10) }
      [[key, "between", [low, low + 10]], {key => low}, fits]
    when 6
      word = WORDS.sample(random: chance)
      [["words", "contains", word], {"words" => "The #{word}"}, ->(image) { image["words"]&.downcase&.include?(word) }]
    else
      key, yes = %w[paid dry].sample(random: chance), chance.rand(2).zero?
      [[key, "is", yes], {key => yes}, ->(image) { image[key] == yes }]
    end
  end

  # @return [Array(Core::CompiledRule, Array, Hash, Proc)] rule, place in the hash, values that it meets, closure
  def rule(id, schema, chance)
    kind, hot, value = "k#{id % KINDS}", "hot#{(id / KINDS) % HOT}", "v#{(id / KINDS / HOT) % NEW_VALUES}"
    written = ->(one) { Core::Condition.new(field: one[0], test: one[1], value: one[2]) }
    asked = Array.new(chance.rand(1..4)) { condition(chance) }.uniq { |one| one[0][0] }
    items = asked.map { |one| written.call(one[0]) }
    tests = asked.map { |one| one[2] }
    if chance.rand(3).zero?
      either = Array.new(2) { condition(chance) }
      items << Core::Group.new(mode: "any", items: either.map { |one| written.call(one[0]) })
      tests << ->(image) { either.any? { |one| one[2].call(image) } }
      asked << either[0] unless asked.any? { |one| one[0][0] == either[0][0][0] }
    end
    plain =
      Core::Rule.new(
        name: "r", kind:, trigger: {"when" => "record_changed", "field" => hot, "to" => [value]},
        how_often: "every_time", branching: "first", only_if: Core::Group.new(mode: "all", items:),
        branches: [
          Core::Branch.new(
            conditions: Core::Group.always,
            actions: [Core::Actions::MakeTask.new(title: "Do it", assign: {"to" => "queue", "queue" => "q"})]
          )
        ],
        otherwise: nil
      )
    met = asked.inject({}) { |all, one| one[1].merge(all) }
    [
      Core::CompiledRule.bind!(plain, schema, id:), [kind, "changed", hot, value], met,
      ->(image) { tests.all? { |test| test.call(image) } }
    ]
  end

  # An event that meets one of the rules; the rest of the record is as it comes.
  def event((_, place, met, _), chance)
    kind, _, hot, value = place
    before =
      (0...HOT).to_h { |i| ["hot#{i}", "v#{chance.rand(NEW_VALUES)}"] }
        .merge((0...3).to_h { |i| ["pick#{i}", "v#{chance.rand(CHOICES)}"] })
        .merge(
          "title" => "Quiet Hour", "size" => chance.rand(100), "cost" => chance.rand(100),
          "words" => "The #{WORDS.sample(random: chance)}", "paid" => chance.rand(2).zero?,
          "dry" => chance.rand(2).zero?, "visit" => 1, "version" => 4, "stage_since" => "2026-11-01"
        )
        .merge(met)
    {
      kind:, before: before.merge(hot => "v#{(value[1..].to_i + 1) % NEW_VALUES}", "version" => 3),
      after: before.merge(hot => value, "version" => 4)
    }
  end

  def facts(plain) =
    Core::Facts.new(Core::Event.new(id: 1, what: "record_changed", record_id: 1, who: nil, at: Bench::NOW, **plain))

  # @return [Integer] how many of the closures say yes
  def plainly(table, plain)
    before = plain[:before]
    after = plain[:after]
    hits = 0
    after.each do |field, value|
      next if before[field] == value

      table[[plain[:kind], "changed", field, value]]&.each { |test| hits += 1 if test.call(after) }
    end
    hits
  end

  # Prints how many events a second the matcher does, as a part of what the closures do. Both see the same events, by
  # turns, so that neither has the better moment.
  def run(count)
    chance = Random.new(11)
    schema = self.schema
    rules = Array.new(count) { |id| rule(id, schema, chance) }
    matcher = Core::Matcher.new(rules.map(&:first))
    table = rules.group_by { |one| one[1] }.transform_values { |all| all.map(&:last) }
    events = Array.new(EVENTS) { event(rules[chance.rand(count)], chance) }
    found = events.map { |one| [matcher.hits(facts(one)).size, plainly(table, one)] }
    abort "both should find the same" unless found.all? { |one, other| one == other }
    3.times { events.each { |one| matcher.hits(facts(one)) } }
    rounds =
      Array.new(7) do
        fresh = events.map { |one| facts(one) }
        [Bench.seconds { events.each { |one| plainly(table, one) } },
          Bench.seconds { fresh.each { |one| matcher.hits(one) } }]
      end
    closures, mine = rounds.transpose.map { |all| Bench.median(all) / EVENTS }
    Bench.note(
      "#{count} mixed rules, #{found.sum(&:first).fdiv(EVENTS).round(1)} met of #{count / table.size}: " \
      "#{(1 / mine).round} events a second, closures #{(1 / closures).round}"
    )
    Bench.ratio("match_over_closures_#{count}", closures / mine)
  end
end
