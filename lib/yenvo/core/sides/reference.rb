# frozen_string_literal: true

module Yenvo
  module Core
    # A left side of a condition: a field of the record ("boat_length") or of a record it links to
    # ("boat_owner.country"), bound to the schema. A worked-out field counts as a field.
    class Reference
      MAX_STEPS = 2

      attr_reader :path, :field, :links, :kind, :needs

      # The quiet door: nil and a sentence when the path leads nowhere.
      # @param path [String]
      # @param kind [Schema::Kind]
      # @param schema [Schema]
      # @return [Array(Reference, nil), Array(nil, String)]
      def self.find(path, kind, schema)
        *steps, last = path.to_s.split(".", -1)
        return [nil, "must go over at most #{MAX_STEPS} links"] if steps.size > MAX_STEPS

        at = kind
        links = []
        steps.each do |step|
          field = at.field(step)
          return [nil, missing(step, at)] unless field
          return [nil, "must go over a link; #{field.label} of a #{at.noun} is none"] unless field.type == "link"

          links << field
          at = schema.subject(field.links_to)
          return [nil, "must lead to a known kind; #{field.links_to.inspect} is none"] unless at
        end
        field = at.field(last)
        return [nil, missing(last, at)] unless field

        formula = schema.formula(at, field) if field.worked_out?
        return [new(path:, links:, field:, kind: at, formula:), nil] if formula || !field.worked_out?

        [nil, "must use a worked-out field whose formula holds; that of #{field.label} does not"]
      end

      def self.missing(key, kind)
        near = kind.fields.keys.min_by { |known| distance(known, key.to_s) }
        "must name a field of a #{kind.noun}; there is no #{Show.quoted(key)}, the nearest is #{near.inspect}"
      end

      # Levenshtein distance, for the hint in a message.
      def self.distance(one, other)
        row = (0..other.size).to_a
        one.each_char.with_index(1) do |left, i|
          corner = row[0]
          row[0] = i
          other.each_char.with_index(1) do |right, j|
            corner, row[j] = row[j], [row[j] + 1, row[j - 1] + 1, corner + ((left == right) ? 0 : 1)].min
          end
        end
        row.last
      end
      private_class_method :missing, :distance

      def initialize(path:, links:, field:, kind:, formula: nil)
        @path = path
        @links = links
        @field = field
        @kind = kind
        @formula = formula
        keys = links.map(&:key)
        @needs = [
          *(Need.new(chain: keys, over: nil) if links.any?), *formula&.needs&.map { |need| need.behind(keys) }
        ].freeze
        freeze
      end

      def own? = links.empty?

      # @return [Boolean] whether it is a field of the record itself that is kept with it
      def stored? = own? && @formula.nil?

      # @return [Boolean] whether it may be another on another day without any change
      def day? = @formula ? @formula.day? : false

      # @return [Array, nil] how it goes on from day to day (see Formula::Part)
      def slide = (@formula.slide if @formula&.day?)

      # @return [String] as people read it, such as "Owner of the boat · Country"
      def label = [*links, field].map(&:label).join(" · ")

      # @return [Proc] from Facts to the plain value or nil
      def getter
        return Sides.given(path, worked_out_getter) if @formula

        key = field.key
        case links.map(&:key)
        in [] then ->(facts) { facts.after[key] }
        in [link] then ->(facts) { facts.linked[facts.after[link]]&.[](key) }
        in [link, second]
          ->(facts) { facts.linked[facts.linked[facts.after[link]]&.[](second)]&.[](key) }
        end
      end

      # @return [Proc] from Facts and an image of the kind that the path begins at to the plain value or nil
      def image_getter
        steps = links.map(&:key)
        formula = @formula
        key = field.key
        lambda do |facts, image|
          at = steps.inject(image) { |found, link| found && facts.linked[found[link]] }
          at && (formula ? formula.call(facts, at) : at[key])
        end
      end

      # @return [Proc, nil] the same for the record before the event; fields kept with the record only
      def before_getter
        return unless stored?

        key = field.key
        ->(facts) { facts.before[key] }
      end

      private

      def worked_out_getter
        get = image_getter
        ->(facts) { get.call(facts, facts.after) }
      end
    end
  end
end
