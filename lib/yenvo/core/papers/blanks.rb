# frozen_string_literal: true

require "liquid"

module Yenvo
  module Core
    module Papers
      # The blanks of a paper: those of a text, and loops over records that lead to the one it is about, as in
      # {% for piece in record.ticket.boat %}{{ piece.title }}{% endfor %}. Larger than a text may be.
      class Blanks < Text
        TAGS = [*Text::TAGS, "for"].freeze
        MOST = 20_000
        MOST_FILLED = 60_000
        # What Liquid knows within a loop.
        LOOP = %w[index first last length].freeze

        ENVIRONMENT = environment(TAGS)
        private_constant :ENVIRONMENT

        def self.most = MOST

        # @param error [Liquid::Error]
        # @return [String] a sentence about a blank that does not end, or the like
        def self.not_whole(error, unit: "line", first: 1)
          place = error.line_number && "in #{unit} #{error.line_number - first + 1}: "
          "#{place}a blank is not whole: #{error.to_s(false).sub(/\ALiquid \w+ error: /i, "")}"
        end

        # @param unit [String] what a line of the source is, as people call it
        # @param first [Integer] number of the line in which the first such stands
        # @param most_filled [Integer] characters that may come of it
        # @param guard [Proc] what stands in a blank, so that it is nothing but words in what is filled in
        def initialize(
          source, kind, schema, unit: "line", first: 1, most_filled: MOST_FILLED, guard: ->(words) { words }
        )
          @most_filled = most_filled
          @unit = unit
          @first = first
          @guard = guard
          super(source, kind, schema)
          @loops = @plain ? {} : loops
        end

        # @return [Array<String>] sentences for all that means nothing, each with its place
        def wrong = [*wrong_loops, *wrong_names, *wrong_filters, *wrong_choices]

        # @return [String] where something first stands, such as "in line 3: "
        def place_of(words)
          line = source.lines.index { |one| one.include?(words) }
          line ? place(line + 1) : ""
        end

        # @raise [Error] with the place of the blank that cannot be filled in
        def fill(facts, rule_name:, today:)
          return source if @plain

          context = context(facts, rule_name, today)
          context.global_filter = ->(value) { @guard.call(value.is_a?(Array) ? "" : value.to_s) }
          within(@template.render(context))
        rescue Liquid::MemoryError
          too_long
        rescue Liquid::Error => error
          raise Error, "#{place(error.line_number)}#{error.to_s(false).sub(/\ALiquid error: /, "")}"
        end

        # @return [Array<Need>]
        def needs = super + @loops.each_value.flat_map { |found| found.map { |chain, over| need(chain, over.name) } }

        # @return [Array<String>] see Text#uses
        def uses
          rows = names.flat_map { |root, key| @loops.fetch(root, []).map { |_, over| "field #{over.kind.key} #{key}" } }
          over = @loops.each_value.flat_map { |all| all.filter_map { |_, one| leading(one) } }
          (super + over + rows).uniq
        end

        private

        attr_reader :most_filled

        def leading(relation) = relation.field && "field #{relation.kind.key} #{relation.field.key}"

        def environment = ENVIRONMENT
        def parse = Liquid::Template.parse(source, environment:, line_numbers: true)
        def most_steps = 200_000

        # A paper is filled in by Liquid alone.
        def simple_pieces = nil

        def place(line) = line ? "in #{@unit} #{line - @first + 1}: " : ""
        def need(chain, over) = Need.new(chain:, over:)

        def too_long
          raise Error, "it grows beyond #{Show.count(most_filled)} characters; shorten it"
        end

        # @return [Hash{String => Array}] by the name of a loop: chain of links and relation, of each loop so named
        def loops
          collections.group_by(&:first).transform_values do |all|
            all.filter_map { |_, words| relation(words) }
          end
        end

        # @return [Array<Array(String, Array<String>)>] name of each loop, and what it goes over
        def collections
          return [] if @plain

          found_of(Liquid::For) do |node|
            over = node.collection_name
            words = over.is_a?(Liquid::VariableLookup) ? [over.name, *over.lookups].map(&:to_s) : []
            [node.variable_name, words]
          end
        end

        # @return [Array(Array<String>, Relation), nil]
        def relation(words)
          root, *rest = words
          return unless root == "record"

          at, chain = @kind, []
          while (field = at.field(rest[0].to_s)) && field.type == "link" && (to = @schema.subject(field.links_to))
            chain << rest.shift
            at = to
          end
          found = Relation.find(rest.join("."), at, @schema).first if at.respond_to?(:links)
          [chain, found] if found && chain.size <= Reference::MAX_STEPS
        end

        def wrong_loops
          collections.reject { |_, words| relation(words) }.map do |name, words|
            known = Relation.all(@kind, @schema).map { |one| "record.#{one.name}" }.first(12).join(", ")
            "#{place_of("for #{name}")}a loop goes over records that lead to a #{@kind.noun} (#{known}); " \
              "#{Show.quoted(words.join("."))} is none"
          end
        end

        def wrong_name(name)
          root, *rest = name
          # What a loop goes over is looked at with the loops.
          return if collections.any? { |_, words| words == name }

          why =
            if root == "forloop"
              "must be one of #{LOOP.join(", ")}" unless LOOP.include?(rest.join("."))
            else
              @loops.key?(root) ? wrong_row(root, rest) : super
            end
          why && placed(name, why)
        end

        def placed(name, why)
          words = name.join(".")
          "#{place_of(words)}#{words} #{why}"
        end

        # @return [String, nil] why a field of a loop cannot be shown
        def wrong_row(name, rest)
          return "must say which field, such as #{name}.title" if rest.size != 1

          @loops[name].filter_map do |_, over|
            field = over.kind.field(rest[0])
            if field.nil? || field.type == "link"
              "must be an own field of a #{over.kind.noun} that is no link"
            elsif field.worked_out? && Array(@schema.formula(over.kind, field)&.needs).any?
              "is worked out from other records, which a loop does not see"
            end
          end.first
        end

        # What a loop goes over is looked at with the loops.
        def record_paths = super - collections.map { |_, (_, *rest)| rest.join(".") }
      end
    end
  end
end
