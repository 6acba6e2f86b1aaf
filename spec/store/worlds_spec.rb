# frozen_string_literal: true

RSpec.describe "The worlds" do
  describe Yenvo::Store::LiveWorld do
    it_behaves_like "a world", described_class
  end

  describe Yenvo::Store::WorldBack do
    Yenvo::Core::Effects.verbs.each do |verb|
      it "knows how to take back #{verb}" do
        expect(described_class.public_method_defined?("#{verb}_back")).to be(true),
          "Store::WorldBack does not know how to take back #{verb}; give it the method #{verb}_back."
      end
    end
  end

  # Every row of every rule of the demo, whatever its conditions, once thought and once live on the same record.
  describe "live and thought" do
    set_up_once("all kits of the demo") { publish_all_kits }

    def now = Database::NOW + 60

    def filled(type)
      type.own_fields.reject(&:worked_out?).to_h { |field| [field.key, value_of(field)] }.compact
    end

    def value_of(field)
      case field.type
      when "text", "long_text" then "Words"
      when "number", "money" then 12_000
      when "date" then "2026-12-03"
      when "datetime" then "2026-12-03T09:00:00Z"
      when "yes_no" then true
      when "choice" then field.choices.last.key
      when "choices" then [field.choices.first.key]
      when "person" then "wen"
      when "phone" then "+353 1 555 0199"
      when "email" then "aldo@example.org"
      when "web" then "https://example.org"
      end
    end

    def a_record(kind)
      type = root.schema.kind(kind)
      values = filled(type)
      type.links.each do |field|
        values[field.key] = make(field.links_to, filled(root.schema.kind(field.links_to)))["id"]
      end
      make(kind, values.merge("title" => "Quiet Hour"))["id"]
    end

    # As if its trigger had just fired, with a task that it may be about.
    def facts_of(rule, record)
      given = {"title" => "By hand", "record_id" => record, "assignee" => "wen", "due_on" => "2026-12-01"}
      task = root.tasks.make(given, cause:)[:id]
      detail = {"task" => root.tasks.images([task], now)[task], "way" => "note", "text" => "Words"}
      image = root.records.images([record])[record].except("kind")
      event = Yenvo::Core::Event.look(rule.kind.key, image, at: now, detail:)
      root.snapshots.facts([event], desk: root.desks.look(now:)) { rule.needs_to_plan }.first
    end

    # @return [Array<Array(Core::CompiledRule, Core::Plan, Core::Facts)>] a plan for each row
    def plans(row, record)
      rule = root.in_force.compiled([row[:version_id]])[row[:version_id]]
      facts = facts_of(rule, record)
      (0..rule.branches.size).filter_map do |index|
        next if index == rule.branches.size && rule.rule.otherwise.nil?

        steps = rule.send(:row_steps, index, facts, now, 0)
        plan = Yenvo::Core::Plan.new(state: :run, code: nil, why: "so", branches: ["1"], tests: [], steps:)
        [rule, plan, facts]
      end
    end

    def thought(record, rule, plan, facts)
      looking = Yenvo::Engine::LookingAhead.new(root, now:)
      looking.send(:gather, record)
      rules, start = looking.instance_variable_get(:@rules), looking.instance_variable_get(:@start)
      ahead = Yenvo::Core::Ahead.new(rules, start, root.schema, now:)
      ahead.instance_variable_get(:@world).carry(plan, rule, facts.event, after: nil, chained: false)
      copy = ahead.instance_variable_get(:@copy)
      said(copy.image, copy.tasks.map { |task| copy.seen(task, now) })
    end

    # Whether it writes all plain runs of a turn together or carries this one out alone.
    def live(record, rule, plan, together)
      entry = root.journal.entries([db[:journal].where(record_id: record).max(:id)])[0].merge(who: nil)
      outcome = Yenvo::Store::Runs::Outcome.new(entry:, rule:, plan:, error: nil, once_key: nil)
      found = nil
      db.transaction(savepoint: true) do
        if together
          root.runs.write([outcome], now:)
        else
          root.runs.send(:carry_out, outcome, now)
        end
        raise db[:runs].reverse(:id).get(:why) if db[:runs].reverse(:id).get(:state) == "failed"

        tasks = db[:tasks].where(record_id: record).order(:id).select_map(:id)
        found = said(root.records.images([record])[record], root.tasks.images(tasks, now).values)
        raise Sequel::Rollback
      end
      found
    end

    def said(image, tasks)
      kept = Yenvo::Core::Schema::Kind::KEPT_BY_YENVO - %w[last_contact visit] + %w[kind]
      [image.except(*kept), tasks.map { |task| task.except("id", "answers", "took", "done", "done_by") }]
    end

    def publish_all_kits
      reach_outside
      paths = Dir[File.expand_path("../../demo/kits/*.yml", __dir__)].sort
      paths.each { |path| publish_demo_kit(File.basename(path, ".yml")) }
    end

    Dir[File.expand_path("../../demo/rules/*.yml", __dir__)].sort.each do |path|
      it "come to the same by #{File.basename(path, ".yml")}" do
        rule = Yenvo::Core::RuleFile.parse(File.read(path))
        record = a_record(rule.kind)
        plans = plans(publish(rule), record)
        plans.each do |compiled, plan, facts|
          expected = thought(record, compiled, plan, facts)
          expect(live(record, compiled, plan, true)).to eq(expected)
          expect(live(record, compiled, plan, false)).to eq(expected)
        end
        expect(plans).not_to be_empty
      end
    end

    Yenvo::Core::Actions.all.select { |_, type| type.after_save? }.each do |name, _|
      it "come to the same by an example of the action #{name}, which is taken back without a trace" do
        first = {"action" => "task", "title" => "First", "assign" => {"to" => "person", "person" => "wen"}}
        row = publish(survey_rule("branches" => [{"do" => [first, WorldExamples.of(name)]}]))
        record = a_record("deal")
        before = kept_of(record)
        rule, plan, facts = plans(row, record)[0]
        expect(live(record, rule, plan, false)).to eq(thought(record, rule, plan, facts))
        entry = root.journal.entries([db[:journal].where(record_id: record).max(:id)])[0]
        outcome = Yenvo::Store::Runs::Outcome.new(entry:, rule:, plan:, error: nil, once_key: nil)
        root.runs.write([outcome], now:)
        items = root.undo.run(db[:runs].all, cause: cause("maren"))
        expect([items.map(&:why).compact, kept_of(record)]).to eq([[], before])
      end
    end

    # Fields of the record, records and notes there are, notices, timers, and the open tasks that were not there before.
    def kept_of(record)
      image = root.records.images([record])[record]
      [
        image.except(*Yenvo::Core::Schema::Kind::KEPT_BY_YENVO), db[:records].count, db[:interactions].count,
        db[:notices].exclude(run_id: nil).count, db[:timers].count, db[:kit_copies].where(state: "running").count,
        db[:deliveries].where(state: "waiting").count,
        db[:tasks].where(record_id: record, open: true).exclude(rule_id: nil).count
      ]
    end
  end
end
