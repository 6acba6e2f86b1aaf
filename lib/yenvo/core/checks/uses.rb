# frozen_string_literal: true

module Yenvo
  module Core
    # What a rule leans on in the set-up: fields, choices, stages, lists, persons, queues, teams. Read from the rule as
    # it is written, so that it is known for drafts that are not whole too. Each use is a text: "field deal value",
    # "choice deal severity unsafe", "stage ticket in_hand", "kind ticket", "person wen", "queue callbacks", "kit
    # launch", "team accounts", "address office", "text welcome", "paper quote", "form survey".
    class Uses
      # @param rule [Rule]
      # @return [Set<String>]
      def self.of(rule, schema) = new(rule, schema).all

      # @param formula [String]
      # @param kind [Schema::Kind]
      # @return [Set<String>] fields that a formula leans on
      def self.of_formula(formula, kind, schema)
        uses = new(nil, schema)
        uses.send(:formula, formula, kind)
        uses.all
      end

      # @param kit [Kits::Kit]
      # @return [Set<String>]
      def self.of_kit(kit, schema)
        uses = new(nil, schema, schema.kind(kit.kind))
        uses.send(:read_kit, kit)
        uses.all
      end

      attr_reader :all

      def initialize(rule, schema, kind = rule && schema.subject(rule.kind))
        @schema = schema
        @all = Set.new
        @rule = rule
        @kind = kind
        read if rule && kind
      end

      private

      def read
        note("kind", @kind.key)
        @rule.triggers.each { |settings| trigger(settings) }
        [@rule.only_if, *@rule.branches.map(&:conditions)].each { |group| conditions(group, @kind) }
        @rule.rows.flatten.each { |action| action(action) }
      end

      def read_kit(kit)
        note("kind", kit.kind)
        return unless @kind

        note("field", kit.kind, kit.from) if kit.field?
        kit.tasks.each do |task|
          task(task.make)
          next unless task.opens

          doing(task.opens.doing, task.opens.doing.settings)
          note("kit", task.opens.kit) if task.opens.kit
        end
      end

      def note(*words) = @all << words.join(" ")

      def trigger(settings)
        {"stages" => ["stage", @kind.key], "persons" => ["person"], "teams" => ["team"], "kinds" => ["kind"]}
          .each { |name, words| Array(settings[name]).each { |key| note(*words, key) } }
        Array(settings["lists"]).each { |key| note("kind", "entry/#{key}") }
        from = settings.dig("date", "from") unless settings["task"] == true
        field = settings["field"]
        [*settings["roles"], *settings["fields"], from, field].compact.each { |name| path(name, @kind) }
        values(field, [*settings["from"], *settings["to"]], @kind) if field
      end

      def conditions(group, kind)
        group.items.each do |item|
          next conditions(item, kind) if item.is_a?(Group)

          path(item.field, kind)
          path(item.other, kind) if item.other
          values(item.field, Array(item.value), kind) unless item.value.is_a?(Hash)
        end
      end

      # Every field on the way counts.
      def path(text, kind)
        return formula(text.delete_prefix("="), kind) if text.start_with?("=")

        text = text.delete_prefix("before.")
        text.split(".").inject(kind) do |at, step|
          field = at&.field(step) or break
          note("field", at.key, step)
          # The links of a task are there for each kind of record.
          note("kind", field.links_to) if at.task? && field.type == "link"
          (field.type == "link") ? @schema.subject(field.links_to) : nil
        end
      end

      def values(text, given, kind)
        side = Sides.find(text, kind, @schema).first or return
        return given.each { |key| note("person", key) } if side.field.type == "person"
        return unless %w[choice choices].include?(side.field.type)

        at = side.is_a?(Reference) ? side.kind : kind
        name = side.field.key.delete_prefix("before.")
        return given.each { |key| note("form", key) } if name == FORM
        return given.each { |key| note(name, key) } if at.task? && %w[queue team].include?(name)

        given.each { |key| (name == "stage") ? note("stage", at.key, key) : note("choice", at.key, name, key) }
      end

      FORM = "event.form"
      private_constant :FORM

      # Names in a formula, wherever they stand; within a count they are fields of what is counted.
      def formula(source, kind)
        kinds = [kind]
        source.gsub(/'[^']*'|"[^"]*"/, "").scan(/[a-z_][\w.]*/i).each do |name|
          relation = Relation.find(name, kind, @schema).first
          next path(name, kinds.find { |at| at.field(name.split(".").first) } || kind) unless relation&.field

          note("field", relation.kind.key, relation.field.key)
          kinds << relation.kind
        end
      end

      def action(action)
        settings = action.settings
        path(settings["of"], @kind) if settings["of"] && !settings["of"].match?(/\A(record\z|made\.)/)
        action.is_a?(Actions::MakeTask) ? task(action) : doing(action, settings)
      end

      def task(action)
        Schema::TaskField.of("rule").each do |field|
          value = action[field.name] or next
          case field.type
          when *Schema::TaskField::TEMPLATES then template(value)
          when *Schema::TaskField::DATES then date(value)
          when "assign" then assign(value)
          when "paper" then value.each_value { |text| template(text) }
          when "fills" then note("paper", value)
          end
        end
      end

      # What a setting leans on, the kind of setting says.
      def doing(action, settings)
        target = target_kind(settings["of"])
        made = settings["kind"] ? @schema.kind(settings["kind"]) : target
        Actions.all.fetch(action.name).takes.each do |name, takes|
          value = settings[name] or next
          case takes
          when :assign, :template, :date then send(takes, value)
          when :group then conditions(value, (name == "which") ? @schema.tasks : @kind)
          when :ladder then value.each { |step| ladder_step(step) }
          when :settings then value.each { |setting| set(setting, made) }
          when :receivers then value.each { |way| assign(way) }
          when :readings then value.each { |one| note("field", @kind.key, one["field"]) }
          when :keys then value.each { |key| note("field", @kind.key, key) }
          end
        end
        named(action, settings, target)
      end

      def named(action, settings, target)
        list, section = settings.values_at("list", "section")
        note("kind", "entry/#{list}") if list
        note("stage", "entry/#{list}", section) if section
        note("stage", target.key, settings["to"]) if action.name == "move" && target
        note("address", settings["address"]) if settings["address"]
        {"saved" => "text", "document" => "paper"}.each do |name, what|
          note(what, settings[name]["key"]) if settings[name]
        end
        %w[kind kit].each { |name| note(name, settings[name]) if settings[name] }
      end

      def ladder_step(step)
        [step.assign, step.fallback].compact.each { |way| assign(way) }
        template(step.text) if step.text
      end

      def target_kind(of)
        return @kind if of.nil? || of == "record"

        reference = Reference.find(of, @kind, @schema).first
        reference && @schema.subject(reference.field.links_to)
      end

      def set(setting, target)
        note("field", target.key, setting.field) if target
        case setting.by
        when "value" then target && values(setting.field, Array(setting.to), target)
        when "formula" then formula(setting.to.to_s.delete_prefix("="), @kind)
        when "copy" then path(setting.to, @kind)
        when "date" then date(setting.to)
        when "text" then template(setting.to)
        end
      end

      def assign(way)
        [way["person"], *way["persons"]].compact.each { |key| note("person", key) }
        note("queue", way["queue"]) if way["queue"]
        note("team", way["team"]) if way["team"]
        [way["field"], *way["fields"]].compact.each { |field| path(field, @kind) }
      end

      def date(rule)
        date(rule.otherwise) if rule.otherwise
        path(rule.from, @kind) unless ["now", "event", *BoundDate::KIT].include?(rule.from)
      end

      def template(text) = text.scan(/\brecord\.([\w.]+)/).flatten.each { |name| path(name, @kind) }
    end
  end
end
