# frozen_string_literal: true

module Yenvo
  module Core
    # What one person may see, change and take away: the only place that decides it. Rules see everything and are never
    # asked. A record without an owner is nobody's, so leads have it in sight.
    class Access
      # Who may, the widest first, with the words for it.
      LEVELS = {
        "everyone" => "everyone", "team" => "the owner's team", "owner" => "the owner and leads of that team",
        "administrators" => "administrators"
      }.freeze
      # What is decided for each kind.
      VERBS = %i[seen_by changed_by taken_away_by].freeze
      LEADING = %w[lead administrator].freeze
      # What stands in place of a kept value that a text holds.
      VEIL = "(kept for leads and administrators)"
      # What stands in a text in place of words of a record that not all see who read the text.
      UNSEEN = "(not for all who read this)"

      # Somebody whom nobody knows.
      NOBODY = Schema::Person.new(key: "", name: "", active: false)

      # @param person [Schema::Person, nil] nil for Yenvo itself, which may all
      # @param schema [Schema]
      def initialize(person, schema)
        @schema = schema
        @all = person.nil? || person.role == "administrator"
        @lead = @all || LEADING.include?(person.role)
        @mates = @all ? [] : among(person)
        @led = @lead ? @mates : [person.key]
        @kept = @lead ? [] : kept_words
        @sees_all = @all || schema.kinds.each_value.all? { |kind| kind.seen_by == "everyone" }
      end

      # @return [Boolean] whether they may all with all records there are
      def all? = @all

      # @return [Boolean] whether what is kept is not kept from them
      def lead? = @lead

      # @param verb [Symbol] one of VERBS
      # @return [Array<String, nil>, nil] owners of the records of a kind that they may; nil for all
      def owners(kind, verb = :seen_by)
        level = @all ? "everyone" : kind.public_send(verb)
        {"everyone" => nil, "team" => @mates, "owner" => @led, "administrators" => []}.fetch(level)
      end

      # @param owner [String, nil] key of the person whose record it is
      # @return [Boolean]
      def may?(verb, kind, owner)
        found = owners(kind, verb)
        found.nil? || found.include?(owner)
      end

      # @return [Boolean] whether nothing of any kind is hidden from them
      def sees_all? = @sees_all

      # @return [Schema] the set-up as they know it, without fields that are kept from them
      def schema = @kept.empty? ? @schema : @schema.without_kept

      # What rules and runs wrote may name a kept field, and its value beside.
      # @param text [String, nil]
      # @return [String, nil] the same, or that it is kept
      def veil(text)
        return text if @kept.empty? || text.nil?

        folded = text.downcase
        (@kept.any? { |words| folded.include?(words) }) ? VEIL : text
      end

      private

      # Those who are in a team with somebody, and they themselves; for leads also nobody.
      def among(person)
        @schema.people.each_value.select { |one| one.with?(person) }.map(&:key) + (@lead ? [nil] : [])
      end

      def kept_words
        @schema.kinds.each_value.flat_map(&:own_fields).select(&:kept).flat_map { |one| [one.label, one.key] }
          .map(&:downcase).uniq
      end
    end
  end
end
