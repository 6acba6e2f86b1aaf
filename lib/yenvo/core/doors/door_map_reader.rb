# frozen_string_literal: true

module Yenvo
  module Core
    # Reads the table of a door from its plain form, as the set-up keeps it, and says all that is wrong with it. A line
    # whose field is gone is left out.
    class DoorMapReader
      MOST_ROWS = 100
      MOST_TYPES = 50

      # @param plain [Hash] see docs/doors.md
      # @param kind [Schema::Kind]
      # @return [Array(DoorMap, Array<Problem>)]
      def self.read(plain, kind, schema) = new(plain, kind, schema).read

      def initialize(plain, kind, schema)
        @plain = plain
        @kind = kind
        @schema = schema
        @problems = []
      end

      def read
        map = DoorMap.new(kind: @kind, how:, key:, rows:, types:)
        whole(map)
        [map, @problems]
      end

      private

      def wrong(path, text) = (@problems << Problem.at(Array(path), text)) && nil

      def how
        given = @plain["how"] || "make"
        DoorMap::HOW.include?(given) ? given : wrong("how", "must be one of #{DoorMap::HOW.join(", ")}") || "make"
      end

      # Fields by which one record is found among all.
      KEYS = %w[text email phone url number].freeze
      private_constant :KEYS

      def key
        name = @plain["key"].to_s
        return if @plain["how"].nil? || @plain["how"] == "make"

        field = @kind.field(name)
        return field if field && KEYS.include?(field.type) && !field.worked_out?

        wrong("key", "must be a field by which one #{@kind.noun} is found, such as a number or an address")
      end

      def types
        given = Array(@plain["types"]).map { |one| one.to_s.strip }.reject(&:empty?).uniq
        wrong("types", "must be at most #{MOST_TYPES}") if given.size > MOST_TYPES
        given.first(MOST_TYPES)
      end

      def rows
        given = Array(@plain["rows"])
        wrong("rows", "must be at most #{MOST_ROWS}; this has #{given.size}") if given.size > MOST_ROWS
        filled = Set.new
        given.first(MOST_ROWS).each_with_index.filter_map do |one, at|
          field = field(one["field"].to_s, at) or next
          next wrong(["rows", at, "field"], "must be filled in once; it is above already") unless filled.add?(field.key)

          row(field, one, at)
        end
      end

      def field(key, at)
        field = @kind.field(key)
        return wrong(["rows", at, "field"], "must be a field of #{@kind.plural}; choose one") unless field
        return field if settable?(field)

        wrong(["rows", at, "field"], "must be a field that can be set; #{field.label} is kept by Yenvo")
      end

      def settable?(field) = field.built_in ? %w[title stage owner].include?(field.key) : !field.worked_out?

      def row(field, one, at)
        path = one["path"].to_s.strip
        path = nil if path.empty?
        problem = path_problem(path, one["value"])
        wrong(["rows", at, "path"], problem) if problem
        DoorRow.new(
          field:, path:, form: form(one, at), choices: choices(field, one, at), by: by(field, one, at),
          value: constant(field, one, at, "value"), otherwise: constant(field, one, at, "otherwise")
        )
      end

      # @return [String, nil]
      def path_problem(path, value)
        return ("must say where it stands, or what it always is" if empty?(value)) unless path

        "must be names with dots between, such as data.stars" unless DoorRow::PATH.match?(path)
      end

      def empty?(value) = value.nil? || value == "" || value == []

      def form(one, at)
        given = one["form"] || "iso"
        DoorRow::FORMS.include?(given) ? given : wrong(["rows", at, "form"], "must be a way to write dates") || "iso"
      end

      def choices(field, one, at)
        given = (one["choices"] || {}).reject { |_, key| empty?(key) }
        lost = given.values.reject { |key| field.choice(key) }
        no_choice = "must lead to choices of #{field.label}; #{lost.join(", ")} is none"
        wrong(["rows", at, "choices"], no_choice) if lost.any?
        given.select { |_, key| field.choice(key) }
      end

      def by(field, one, at)
        return unless field.type == "link" && !empty?(one["by"])

        found = @schema.kind(field.links_to)&.field(one["by"].to_s)
        return found.key if found && KEYS.include?(found.type)

        wrong(["rows", at, "by"], "must be a field by which one record is found")
      end

      # What is always so is read as if it had come in, so that what would be refused each time is said now.
      def constant(field, one, at, name)
        return if empty?(one[name])

        Reading.value(field, one[name], @schema) unless field.type == "link"
        one[name]
      rescue Unreadable => error
        wrong(["rows", at, name], "must be of use: #{error.message}")
      end

      def whole(map)
        wrong("rows", "must fill in something") if map.rows.empty?
        filled = map.rows.map { |row| row.field.key }
        wrong("rows", "must fill in #{map.key.label}, by which it is found") if map.key && !filled.include?(map.key.key)
        return if map.how == "change"

        lacks = needed.reject { |field| filled.include?(field.key) }.map(&:label)
        wrong("rows", "must fill in #{lacks.join(", ")}, which every #{@kind.noun} has to have") if lacks.any?
      end

      def needed = [@kind.field("title"), *@kind.own_fields.select { |field| field.required && field.default.nil? }]
    end
  end
end
