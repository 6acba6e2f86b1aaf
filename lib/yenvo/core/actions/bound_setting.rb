# frozen_string_literal: true

module Yenvo
  module Core
    module Actions
      # A Setting tied to the schema: works out what a field is set to.
      class BoundSetting
        attr_reader :field, :needs

        # @param target [Schema::Kind] of the record that is set
        # @param kind [Schema::Kind] of the record that the rule is about
        # @return [BoundSetting, nil]
        def self.bind(setting, target, kind, schema, path: [], problems: [])
          before = problems.size
          bound = new(setting, target, kind, schema, path, problems)
          (problems.size == before) ? bound : nil
        end

        def initialize(setting, target, kind, schema, path, problems)
          @setting = setting
          @schema = schema
          @kind = kind
          @target = target
          @needs = []
          @path = path
          @problems = problems
          @field = settable(target, setting.field)
          send("bind_#{setting.by}") if @field
        end

        # @return [Proc, nil] where the value is worked out from the field that is set: the same from the record as it
        #   is when it is written, which may have changed since the event
        # @param facts [Facts]
        def anew(facts) = @leaning && ->(image) { read(@leaning.call(facts, image)) }

        # @return [Array(Object, String, nil)] the plain value, and what there is to say about it
        # @raise [Unreadable]
        def work_out(facts, now:, rule_name:) = @work.call(facts, now, rule_name)

        private

        def wrong(step, sentence) = @problems.push(Problem.at([*@path, step], sentence))

        def settable(target, key)
          field = target.field(key)
          if field.nil?
            wrong("field", "must name a field of a #{target.noun}; there is no #{Show.quoted(key)}") && nil
          elsif field.worked_out?
            wrong("field", "must be a field that is kept; #{field.label} is worked out") && nil
          elsif field.built_in && !%w[title stage owner].include?(key)
            wrong("field", "must be a field that people or rules change; Yenvo keeps #{field.label} itself") && nil
          else
            field
          end
        end

        def bind_value
          plain =
            Array(Reading.value(field, @setting.to, @schema)).then { |all| (field.type == "choices") ? all : all[0] }
          if plain.nil? || plain == []
            return wrong("value", "must fit the field: #{field.label} takes a value here; to empty it, choose empty")
          end

          @work = ->(_, _, _) { [plain, nil] }
        rescue Unreadable => error
          wrong("value", "must fit the field: #{error.message}")
        end

        def bind_empty
          if %w[title stage].include?(field.key)
            return wrong("empty", "must stand for a field that can be empty; #{field.label} cannot")
          end

          @work = ->(_, _, _) { [nil, nil] }
        end

        def bind_now
          return not_dated("now") unless field.dated?

          calendar = @schema.calendar
          dated = field.type == "date"
          @work = ->(_, now, _) { [dated ? calendar.date_of(now).iso8601 : Reading.moment(now), nil] }
        end

        def not_dated(step) =
          wrong(step, "must stand for a date or a date with time; #{field.label} is a #{field.type_words}")

        def bind_date
          return not_dated("date") unless field.dated?

          date = BoundDate.bind(@setting.to, @kind, @schema, @schema.calendar, **where("date")) or return
          @needs = date.needs
          dated = field.type == "date"
          @work =
            lambda do |facts, now, _|
              due = date.work_out(facts, now:)
              next [nil, "no #{field.label}: #{date.missing}"] unless due

              [dated ? due.on.iso8601 : Reading.moment(due.moment), "#{field.label} #{date.phrase}#{due.why_moved}"]
            end
        end

        # Where a step stands, for what is tied to the schema there.
        def where(step) = {path: [*@path, step], problems: @problems}

        def bind_formula
          formula = Formula.bind(@setting.to.to_s.delete_prefix("="), @kind, @schema, **where("formula")) or return
          unless fits?(formula.type)
            return wrong(
              "formula",
              "must come to what #{field.label} takes, a #{field.type_words}; this comes to a #{formula.type}"
            )
          end

          @needs = formula.needs
          @leaning = formula if leans?(formula)
          @work = ->(facts, _, _) { [read(formula.call(facts, facts.after)), nil] }
        end

        # @return [Boolean] whether it is worked out from the field that it is for
        def leans?(formula)
          itself = "field #{@kind.key} #{field.key}"
          @target == @kind && Uses.of_formula(formula.source, @kind, @schema).include?(itself)
        end

        def bind_copy
          side, sentence = Sides.find(@setting.to.to_s, @kind, @schema)
          return wrong("copy", sentence) unless side
          unless fits?(side.field.type)
            return wrong(
              "copy",
              "must be a field like #{field.label}, a #{field.type_words}; #{side.label} is a #{side.field.type_words}"
            )
          end

          @needs = side.needs
          get = side.getter
          @work = ->(facts, _, _) { [read(get.call(facts)), nil] }
        end

        def bind_text
          return wrong("text", "must stand for a text; #{field.label} is a #{field.type_words}") unless field.textual?

          text = Text.bind(@setting.to.to_s, @kind, @schema, **where("text")) or return
          @needs = text.needs
          calendar = @schema.calendar
          @work =
            lambda do |facts, now, rule_name|
              [read(text.fill(facts, rule_name:, today: calendar.date_of(now)).strip), nil]
            end
        end

        def fits?(type) =
          Operands.family(field) == Operands.family(field.with(type:)) ||
            (field.type == "choice" && Schema::TEXTS.include?(type)) || (field.type == "person" && type == "text")

        # What comes out of a calculation has to be something that the field can hold.
        def read(value) = value.nil? ? nil : Reading.value(field, value, @schema)
      end
    end
  end
end
