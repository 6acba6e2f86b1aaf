# frozen_string_literal: true

require "liquid"

module Yenvo
  module Core
    # A text with blanks such as "Book the hoist for {{ record.title }}", written in Liquid. Only choosing and showing
    # is allowed in it (no loops, no files), and its size and the size of what it gives are limited.
    class Text
      MAX_SOURCE = 4_000
      MAX_RESULT = 20_000
      TAGS = %w[if unless case comment raw #].freeze
      ROOTS = %w[record before event task today rule].freeze
      EVENT = %w[who at said].freeze

      # @param tags [Array<String>] of Liquid that a text may have
      # @return [Liquid::Environment]
      def self.environment(tags) =
        Liquid::Environment.build do |environment|
          environment.error_mode = :strict
          environment.tags = environment.tags.slice(*tags)
          environment.strainer_template =
            Class.new(Liquid::StrainerTemplate).tap { |strainer| strainer.add_filter(TextFilters) }
        end

      ENVIRONMENT = environment(TAGS)
      private_constant :ENVIRONMENT

      attr_reader :source

      # @return [Integer] characters that it may have as it is written
      def self.most = MAX_SOURCE

      # @param source [String]
      # @param path [Array] place in the rule, for problems
      # @return [Text, nil] nil when something is wrong
      def self.bind(source, kind, schema, path: [], problems: [])
        if source.size > most
          return problems.push(Problem.at(path, "must have at most #{Show.count(most)} characters")) && nil
        end

        text = new(source, kind, schema)
        wrong = text.wrong_names + text.wrong_filters + text.wrong_choices
        problems.concat(wrong.map { |sentence| Problem.at(path, sentence) })
        wrong.empty? ? text : nil
      rescue Liquid::Error => error
        problems.push(
          Problem.at(
            path, "must be a text whose blanks are whole, such as {{ record.title }}: " \
            "#{error.message.sub(/\ALiquid \w+ error: /i, "")}"
          )
        ) && nil
      end

      # @return [String] a text for lists, each blank as the name of the field that stands in it
      def self.shown(source, kind, schema)
        source.gsub(/\{\{\s*([\w.]+)[^}]*\}\}/) do
          path = Regexp.last_match(1).delete_prefix("record.")
          path = kind.label.downcase if path == "title"
          "[#{Reference.find(path, kind, schema).first&.label || path.tr("._", " ")}]"
        end
      end

      def initialize(source, kind, schema)
        @source = source
        @kind = kind
        @schema = schema
        @plain = !source.match?(/\{[{%]/)
        @template = @plain ? nil : parse
        @pieces = simple_pieces
      end

      # @param facts [Facts]
      # @return [String]
      # @raise [Error] when the text grows too large
      def fill(facts, rule_name:, today:)
        return source if @plain
        return fill_pieces(facts) if @pieces

        within(@template.render(context(facts, rule_name, today)))
      rescue Liquid::MemoryError
        too_long
      rescue VeiledDrop::Hidden => hidden
        hidden.message.delete_prefix("Liquid error: ")
      rescue Liquid::Error => error
        raise Error, "A text of the rule cannot be filled in: #{error.message.sub(/\ALiquid error: /, "")}."
      end

      # @return [Array<String>] sentences for names that mean nothing
      def wrong_names = names.filter_map { |path| wrong_name(path) }

      # @return [Array<String>] sentences for filters that there are not, or that are misused in a way that can be seen
      def wrong_filters
        filters.filter_map do |name, arguments|
          unless TextFilters.names.include?(name)
            known = TextFilters.names.join(", ")
            next "must send a blank through known filters (#{known}); there is no #{name[0, 40].inspect}"
          end

          kinds = TextFilters.instance_method(name).parameters.drop(1).map(&:first)
          least, most = kinds.count(:req), kinds.size
          unless arguments.size.between?(least, most)
            count = (least == most) ? least : "#{least} to #{most}"
            next "must give the filter #{name} #{count} values behind its colon"
          end

          format = arguments[0] if name == "date" && arguments[0].is_a?(String)
          words = format && TextFilters.format_problem(format)
          words && "must be right in its filter: #{words}"
        end
      end

      # A choice is compared by its key; what it shows as would never be equal.
      # @return [Array<String>] sentences for texts that are no key of the choice they are held against
      def wrong_choices
        return [] if @plain

        conditions(@template.root).filter_map do |left, right|
          field = choice_field(left) || choice_field(right)
          literal = [left, right].grep(String).first
          next if field.nil? || literal.nil? || field.choice(literal)

          key = field.choices.find { |choice| choice.label.casecmp?(literal) }&.key
          known = field.choices.map(&:key).first(12).join(", ")
          name = ", #{key.inspect}" if key
          "must compare #{field.label} by its key#{name} (#{known}); #{Show.quoted(literal)} is none"
        end
      end

      # @return [Boolean] whether it speaks of the task of the event
      def of_task? = names.any? { |root, *_| root == "task" }

      # @return [Array<Need>] what has to be loaded before it is filled in
      def needs = references.flat_map(&:needs)

      # @return [Array<Reference>] what it looks at, for loading linked records
      def references
        record_paths.filter_map do |path|
          found(path).first || Reference.find("#{path}.title", @kind, @schema).first
        end + link_titles
      end

      # @return [Array<String>] what it leans on, as Uses says it
      def uses = ["kind #{@kind.key}", *field_uses, *before_uses].uniq

      SIMPLE = /\{\{\s*record\.(\w+(?:\.\w+)*)\s*\}\}/
      private_constant :SIMPLE

      private

      def environment = ENVIRONMENT
      def parse = Liquid::Template.parse(source, environment:)

      # @return [Integer] steps that filling it in may take
      def most_steps = 10_000

      def context(facts, rule_name, today)
        most = most_filled
        # Liquid counts bytes; characters are counted when all is there.
        limits = {render_length_limit: most * 4, assign_score_limit: most, render_score_limit: most_steps}
        Liquid::Context.build(environment:, environments: values(facts, rule_name, today),
          resource_limits: Liquid::ResourceLimits.new(limits), rethrow_errors: true)
      end

      # Most texts are words with fields of the record between. They are filled in without Liquid, which would set up a
      # context for each; a property test holds both ways equal.
      # @return [Array<String, Array(Proc, Schema::Field)>, nil] nil when there is more in the text
      def simple_pieces
        return if @plain || @schema.veils? || source.gsub(SIMPLE, "").match?(/\{[{%]/) || !wrong_names.empty?

        source.split(SIMPLE).each_with_index.map do |piece, index|
          next piece if index.even?

          found = Reference.find(piece, @kind, @schema).first
          return nil unless found

          found = Reference.find("#{piece}.title", @kind, @schema).first if found.field.type == "link"
          [found.getter, found.field]
        end
      end

      # @return [Array] as Reference.find; also for what is known of the person in a field
      def found(path)
        reference, wrong = Reference.find(path, @kind, @schema)
        field, _, part = path.rpartition(".")
        return [reference, wrong] if reference || !PersonDrop::PARTS.include?(part)

        person = Reference.find(field, @kind, @schema).first
        (person&.field&.type == "person") ? [person, nil] : [nil, wrong]
      end

      def person_part?(rest, kind) =
        rest.size == 2 && PersonDrop::PARTS.include?(rest[1]) && kind.field(rest[0])&.type == "person"

      def fill_pieces(facts)
        out = +""
        @pieces.each do |piece|
          next out << piece if piece.is_a?(String)

          value = piece[0].call(facts)
          out << Show.value(piece[1], value, @schema) unless value.nil?
          too_long if out.size > most_filled
        end
        within(out)
      end

      # @return [Integer] characters that it may have once it is filled in
      def most_filled = MAX_RESULT

      def within(text) = (text.size > most_filled) ? too_long : text

      def too_long
        raise Error, "A text of the rule grows beyond #{Show.count(most_filled)} characters; shorten it."
      end

      def field_uses = references.flat_map { |one| along(one) }

      # Every field on the way counts.
      def along(reference)
        at = @kind
        (reference.links + [reference.field]).map do |field|
          "field #{at.key} #{field.key}".tap { at = @schema.subject(field.links_to) if field.type == "link" }
        end
      end

      def before_uses = names.filter_map { |root, key| "field #{@kind.key} #{key}" if root == "before" && key }

      # @return [Array<String>] fields of the record of which it speaks, also behind links
      def record_paths = names.filter_map { |root, *rest| rest.join(".") if root == "record" && rest.any? }

      # A link stands for the title of what it leads to.
      def link_titles
        record_paths.filter_map do |path|
          found = Reference.find(path, @kind, @schema).first
          Reference.find("#{found.path}.title", @kind, @schema).first if found && found.field.type == "link"
        end
      end

      def names
        @names ||= @plain ? [] : lookups.uniq
      end

      def lookups = found_of(Liquid::VariableLookup) { |node| [node.name, *node.lookups].map(&:to_s) }

      # @return [Array<Array(String, Array)>] each filter with what stands behind its colon
      def filters =
        if @plain
          []
        else
          found_of(Liquid::Variable) do |node|
            node.filters.map { |name, arguments, *| [name, arguments || []] }
          end.flatten(1)
        end

      # @return [Array<Array(Object, Object)>] both sides of each == and != in an if, unless or case
      def conditions(node)
        return [] unless node.respond_to?(:nodelist)

        found = node.respond_to?(:blocks) ? node.blocks.flat_map { |block| sides_of(block) } : []
        found + Array(node.nodelist).flat_map { |inner| conditions(inner) }
      end

      def sides_of(block)
        return [] unless block.is_a?(Liquid::Condition) && !block.is_a?(Liquid::ElseCondition)

        own = %w[== != <>].include?(block.operator) ? [[block.left, block.right]] : []
        own + (block.child_condition ? sides_of(block.child_condition) : [])
      end

      # @return [Schema::Field, nil] the choice that a side speaks of
      def choice_field(side)
        return unless side.is_a?(Liquid::VariableLookup)

        path = side.lookups.join(".")
        field = case side.name
        when "record" then Reference.find(path, @kind, @schema).first&.field
        when "before" then @kind.field(path)
        end
        field if field&.type == "choice"
      end

      def found_of(type)
        found = []
        visitor = Liquid::ParseTreeVisitor.for(@template.root)
        visitor.add_callback_for(type) { |node| found << yield(node) }
        visitor.visit
        found
      end

      # What somebody wrote: a note, an answer.
      def said(event) = event.detail.values_at("text", "answer").compact.first

      def wrong_name((root, *rest))
        return "must begin with #{ROOTS.join(", ")}; there is no #{root.inspect}" unless ROOTS.include?(root)

        one = rest[0] if rest.size == 1
        case root
        when "record"
          return "must say which field, such as record.title" if rest.empty?

          found(rest.join(".")).last
        when "before"
          good = (one && @kind.field(one)) || person_part?(rest, @kind)
          "must say which own field, such as before.stage" unless good
        when "event"
          good = EVENT.include?(one) || (rest.size == 2 && rest[0] == "who" && PersonDrop::PARTS.include?(rest[1]))
          "must be event.who, event.at or event.said; there is no #{[root, *rest].join(".")}" unless good
        when "task"
          good = (one && @schema.tasks.field(one)) || person_part?(rest, @schema.tasks)
          "must say which field of the task, such as task.title" unless good
        else "must be #{root} alone" if rest.any?
        end
      end

      def values(facts, rule_name, today)
        event = facts.event
        place = facts.place(@schema)
        readers = (facts.readers || place unless facts.readers == Facts::OUTSIDE)
        record = ->(image, kind = @kind) { RecordDrop.new(image, kind, @schema, facts, readers:, place:) }
        at = FieldDrop.new(Reading.moment(event.at), Show.moment(event.at, @schema.zone), @schema.zone)
        {
          "record" => record.call(facts.after), "before" => record.call(facts.before),
          "task" => record.call(event.detail["task"] || {}, @schema.tasks),
          "event" => {"who" => PersonDrop.of_event(event.who, @schema), "at" => at, "said" => said(event)},
          "today" => FieldDrop.new(today.iso8601, Show.date(today)), "rule" => rule_name
        }
      end
    end
  end
end
