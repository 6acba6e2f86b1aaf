# frozen_string_literal: true

module Yenvo
  module Core
    # A left side of a condition: a field of the record ("boat_length") or of a record it links to
    # ("boat_owner.country"), bound to the schema.
    class Reference
      MAX_STEPS = 2

      attr_reader :path, :field, :links, :kind

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
          return [nil, "must go over a link; #{field.label} of a #{at.label.downcase} is none"] unless field.type == "link"

          links << field
          at = schema.kind(field.links_to) or return [nil, "must lead to a known kind; #{field.links_to.inspect} is none"]
        end
        field = at.field(last)
        field ? [new(path: path, links: links, field: field, kind: at), nil] : [nil, missing(last, at)]
      end

      def self.missing(key, kind)
        near = kind.fields.keys.min_by { |known| distance(known, key.to_s) }
        "must name a field of a #{kind.label.downcase}; there is no #{key.inspect}, the nearest is #{near.inspect}"
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

      def initialize(path:, links:, field:, kind:)
        @path = path
        @links = links
        @field = field
        @kind = kind
        freeze
      end

      def own? = links.empty?

      # @return [String] as people read it, such as "Owner of the boat · Country"
      def label = [*links, field].map(&:label).join(" · ")

      # @return [Proc] from Facts to the plain value or nil
      def getter
        key = field.key
        case links.map(&:key)
        in [] then ->(facts) { facts.after[key] }
        in [link] then ->(facts) { facts.linked[facts.after[link]]&.[](key) }
        in [link, second]
          ->(facts) { facts.linked[facts.linked[facts.after[link]]&.[](second)]&.[](key) }
        end
      end

      # @return [Proc] the same for the record before the event; own fields only
      def before_getter
        key = field.key
        ->(facts) { facts.before[key] }
      end
    end
  end
end
