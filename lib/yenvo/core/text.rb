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
      EVENT = %w[who at].freeze

      ENVIRONMENT = Liquid::Environment.build do |environment|
        environment.error_mode = :strict
        environment.instance_variable_set(:@tags, environment.instance_variable_get(:@tags).slice(*TAGS))
      end
      private_constant :ENVIRONMENT

      attr_reader :source

      # @param source [String]
      # @param path [Array] place in the rule, for problems
      # @return [Text, nil] nil when something is wrong
      def self.bind(source, kind, schema, path: [], problems: [])
        return problems.push(Problem.at(path, "must have at most #{Show.count(MAX_SOURCE)} characters")) && nil if source.size > MAX_SOURCE

        text = new(source, kind, schema)
        wrong = text.wrong_names
        problems.concat(wrong.map { |sentence| Problem.at(path, sentence) })
        wrong.empty? ? text : nil
      rescue Liquid::Error => error
        problems.push(Problem.at(path, "must be a text whose blanks are whole, such as {{ record.title }}: #{error.message.sub(/\ALiquid \w+ error: /i, "")}")) && nil
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
        @template = @plain ? nil : Liquid::Template.parse(source, environment: ENVIRONMENT)
        @pieces = simple_pieces
      end

      # @param facts [Facts]
      # @return [String]
      # @raise [Error] when the text grows too large
      def fill(facts, rule_name:, today:)
        return source if @plain
        return fill_pieces(facts) if @pieces

        limits = {render_length_limit: MAX_RESULT, assign_score_limit: MAX_RESULT, render_score_limit: 10_000}
        context = Liquid::Context.build(environment: ENVIRONMENT, environments: values(facts, rule_name, today),
          resource_limits: Liquid::ResourceLimits.new(limits), rethrow_errors: true)
        @template.render(context)
      rescue Liquid::MemoryError
        raise Error, "A text of the rule grows beyond #{Show.count(MAX_RESULT)} characters; shorten it."
      rescue Liquid::Error => error
        raise Error, "A text of the rule cannot be filled in: #{error.message.sub(/\ALiquid error: /, "")}."
      end

      # @return [Array<String>] sentences for names that mean nothing
      def wrong_names = names.filter_map { |path| wrong_name(path) }

      # @return [Boolean] whether it speaks of the task of the event
      def of_task? = names.any? { |root, *_| root == "task" }

      # @return [Array<Need>] what has to be loaded before it is filled in
      def needs = references.flat_map(&:needs)

      # @return [Array<Reference>] what it looks at, for loading linked records
      def references
        names.filter_map do |root, *rest|
          next unless root == "record" && !rest.empty?

          path = rest.join(".")
          Reference.find(path, @kind, @schema).first || Reference.find("#{path}.title", @kind, @schema).first
        end + link_titles
      end

      SIMPLE = /\{\{\s*record\.(\w+(?:\.\w+)*)\s*\}\}/
      private_constant :SIMPLE

      private

      # Most texts are words with fields of the record between. They are filled in without Liquid, which would set up a
      # context for each; a property test holds both ways equal.
      # @return [Array<String, Array(Proc, Schema::Field)>, nil] nil when there is more in the text
      def simple_pieces
        return if @plain || source.gsub(SIMPLE, "").match?(/\{[{%]/) || !wrong_names.empty?

        source.split(SIMPLE).each_with_index.map do |piece, index|
          next piece if index.even?

          found = Reference.find(piece, @kind, @schema).first
          found = Reference.find("#{piece}.title", @kind, @schema).first if found.field.type == "link"
          [found.getter, found.field]
        end
      end

      def fill_pieces(facts)
        out = +""
        @pieces.each do |piece|
          next out << piece if piece.is_a?(String)

          value = piece[0].call(facts)
          out << Show.value(piece[1], value, @schema) unless value.nil?
        end
        raise Error, "A text of the rule grows beyond #{Show.count(MAX_RESULT)} characters; shorten it." if out.bytesize > MAX_RESULT

        out
      end

      # A link stands for the title of what it leads to.
      def link_titles
        names.filter_map do |root, *rest|
          found = (root == "record") && Reference.find(rest.join("."), @kind, @schema).first
          Reference.find("#{found.path}.title", @kind, @schema).first if found && found.field.type == "link"
        end
      end

      def names
        @names ||= @plain ? [] : lookups.uniq
      end

      def lookups
        found = []
        visitor = Liquid::ParseTreeVisitor.for(@template.root)
        visitor.add_callback_for(Liquid::VariableLookup) { |node| found << [node.name, *node.lookups].map(&:to_s) }
        visitor.visit
        found
      end

      def wrong_name((root, *rest))
        case root
        when "record" then rest.empty? ? "must say which field, such as record.title" : Reference.find(rest.join("."), @kind, @schema).last
        when "before" then (rest.size == 1 && @kind.field(rest[0])) ? nil : "must say which own field, such as before.stage"
        when "event" then (rest.size == 1 && EVENT.include?(rest[0])) ? nil : "must be event.who or event.at; there is no #{["event", *rest].join(".")}"
        when "task" then (rest.size == 1 && @schema.tasks.field(rest[0])) ? nil : "must say which field of the task, such as task.title"
        when "today", "rule" then rest.empty? ? nil : "must be #{root} alone"
        else "must begin with #{ROOTS.join(", ")}; there is no #{root.inspect}"
        end
      end

      def values(facts, rule_name, today)
        {
          "record" => RecordDrop.new(facts.after, @kind, @schema, facts),
          "before" => RecordDrop.new(facts.before, @kind, @schema, facts),
          "event" => {"who" => @schema.name_of(facts.event.who), "at" => Show.moment(facts.event.at, @schema.zone)},
          "task" => RecordDrop.new(facts.event.detail["task"] || {}, @schema.tasks, @schema, facts), "today" => Show.date(today), "rule" => rule_name
        }
      end
    end
  end
end
