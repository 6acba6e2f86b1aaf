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
          unless field.dated?
            return (
              wrong("now", "must stand for a date or a date with time; #{field.label} is a #{field.type.tr("_", " ")}")
            )
          end

          calendar = @schema.calendar
          dated = field.type == "date"
          @work = ->(_, now, _) { [dated ? calendar.zone.date_of(now).iso8601 : Reading.moment(now), nil] }
        end

        def bind_date
          unless field.dated?
            return (
              wrong("date", "must stand for a date or a date with time; #{field.label} is a #{field.type.tr("_", " ")}")
            )
          end

          date =
            BoundDate.bind(
              @setting.to, @kind, @schema, @schema.calendar, path: [*@path, "date"], problems: @problems
            ) or return
          @needs = date.needs
          dated = field.type == "date"
          @work =
            lambda do |facts, now, _|
              due = date.work_out(facts, now:)
              next [nil, "no #{field.label}: #{date.missing}"] unless due

              if due.moved_from
                moved = "; #{Show.date(due.moved_from)} is #{due.off}, so it moved to #{Show.date(due.on)}"
              end
              [dated ? due.on.iso8601 : Reading.moment(due.moment), "#{field.label} #{date.phrase}#{moved}"]
            end
        end

        def bind_formula
          formula =
            Formula.bind(
              @setting.to.to_s.delete_prefix("="), @kind, @schema, path: [*@path, "formula"], problems: @problems
            ) or return
          unless fits?(formula.type)
            return (
              wrong(
                "formula",
                "must come to what #{field.label} takes, a #{field.type.tr("_", " ")}; this comes to a #{formula.type}"
              )
            )
          end

          @needs = formula.needs
          @leaning = formula if @target == @kind &&
            Uses.of_formula(formula.source, @kind, @schema).include?("field #{@kind.key} #{field.key}")
          @work = ->(facts, _, _) { [read(formula.call(facts, facts.after)), nil] }
        end

        def bind_copy
          side, sentence = Sides.find(@setting.to.to_s, @kind, @schema)
          return wrong("copy", sentence) unless side
          unless fits?(side.field.type)
            return (
              wrong(
                "copy", "must be a field like #{field.label}, a #{field.type.tr("_", " ")}; #{side.label} is a " \
                "#{side.field.type.tr("_", " ")}"
              )
            )
          end

          @needs = side.needs
          get = side.getter
          @work = ->(facts, _, _) { [read(get.call(facts)), nil] }
        end

        def bind_text
          unless field.textual?
            return wrong("text", "must stand for a text; #{field.label} is a #{field.type.tr("_", " ")}")
          end

          text = Text.bind(@setting.to.to_s, @kind, @schema, path: [*@path, "text"], problems: @problems) or return
          @needs = text.needs
          zone = @schema.calendar.zone
          @work = ->(facts, now, rule_name) do
            [read(text.fill(facts, rule_name:, today: zone.date_of(now)).strip), nil]
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
