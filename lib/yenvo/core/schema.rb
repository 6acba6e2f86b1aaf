# frozen_string_literal: true

module Yenvo
  module Core
    # What records can hold: kinds with their fields and stages, the persons, teams and queues that can be named, and
    # the working calendar by which time is counted. It is data; no kind or field stands in code but the built-in
    # fields.
    class Schema
      TEXTS = %w[text long_text url email phone].freeze
      NUMBERS = %w[number money].freeze
      DATES = %w[date datetime].freeze
      TYPES = [*TEXTS, *NUMBERS, *DATES, "yes_no", "choice", "choices", "person", "link"].freeze

      attr_reader :kinds, :people, :addresses, :queues, :teams, :forms, :retired_queues, :queue_kinds, :zone, :calendar,
        :tasks, :kits, :number_form, :texts, :papers, :library

      # @param kinds [Array<Schema::Kind>]
      # @param people [Array<Schema::Person>]
      # @param queues [Hash{String => String}] key to name
      # @param teams [Hash{String => String}] key to name
      # @param forms [Hash{String => String}] key to name of those that visitors fill in
      # @param retired_queues [Hash{String => String}] key to name of those in which nothing is put any more
      # @param queue_kinds [Hash{String => Array<String>}] the kinds that a queue takes, where it does not take all
      # @param zone [String] IANA name of the time zone in which people read dates
      # @param number_form [String] how the house writes numbers, one of Numbers::FORMS
      # @param addresses [Array<Schema::Address>] where messages of rules can go
      # @param texts, papers [Array<Schema::Kept>] that rules can take
      # @param library [Papers::Library] where their versions are
      # @param kits [Array<Kits::Book::Entry>] published kits
      # @param calendar [Calendar, nil] one of usual hours when not given
      def initialize(
        kinds:, people: [], queues: {}, teams: {}, forms: {}, retired_queues: {}, queue_kinds: {}, zone: "UTC",
        calendar: nil, kits: [], number_form: "point", addresses: [], texts: [], papers: [],
        library: Papers::Library.new
      )
        @kinds = kinds.to_h { |kind| [kind.key, kind] }.freeze
        @people = people.to_h { |person| [person.key, person] }.freeze
        @addresses, @texts, @papers =
          [addresses, texts, papers].map { |all| all.to_h { |one| [one.key, one] }.freeze }
        @library = library
        @queues, @teams, @forms = [queues, teams, forms].map { |names| names.dup.freeze }
        @retired_queues = retired_queues
        @queue_kinds = queue_kinds
        @zone = zone
        @number_form = number_form
        @calendar = calendar || Calendar.new(zone:)
        @tasks = TaskKind.build(self)
        @subjects = Subjects.build(self)
        @formulas = Formulas.new(self)
        @kits = Kits::Book.new(kits, self)
        @seen = {}
        freeze
      end

      include Sliced

      # @param kind [Kind]
      # @return [Schema] the same with one kind changed, without kits
      def with_kind(kind)
        Schema.new(**slice(*NAMED), **listed, kinds: kinds.merge(kind.key => kind).values)
      end
      NAMED = %i[queues teams forms retired_queues queue_kinds zone number_form calendar library].freeze
      private_constant :NAMED

      def listed = %i[people addresses texts papers].to_h { |name| [name, public_send(name).values] }
      private :listed

      # @return [Schema] the same without the fields that are kept for leads and administrators
      def without_kept
        @seen[:without_kept] ||=
          Schema.new(**slice(*NAMED), **listed, kits: kits.all, kinds: kinds.values.map { |kind|
            kind.with_fields(kind.own_fields.reject(&:kept))
          })
      end

      # @return [Boolean] whether there are records that not everybody sees
      def hides? = @seen.fetch(:hides) { @seen[:hides] = kinds.each_value.any? { |kind| kind.seen_by != "everyone" } }

      # @return [Boolean] whether anything is hidden from anybody
      def veils? =
        @seen.fetch(:veils) { @seen[:veils] = hides? || kinds.each_value.any? { |kind| kind.own_fields.any?(&:kept) } }

      # @param readers [Array(Kind, String), nil] kind and owner of the record where something is read
      # @param place [Array(Kind, String), nil] kind and owner of the record of which it tells
      # @return [Boolean] whether all who see the one see the other
      def shared?(readers, place)
        return true if readers.nil? || place.nil? || readers == place || !hides?

        @seen.fetch([readers, place]) do |both|
          @seen[both] =
            people.each_key.all? { |key| !access(key).may?(:seen_by, *readers) || access(key).may?(:seen_by, *place) }
        end
      end

      # @param key [String, nil] of a person; nil for Yenvo itself
      # @return [Access] what they may
      def access(key) = @seen[[:access, key]] ||= Access.new(key && (person(key) || Access::NOBODY), self)

      # @return [Kind, nil]
      def kind(key) = kinds[key]

      # @return [Kind, nil] a kind of record, or "task", or "record" for whatever kind (see Subjects)
      def subject(key) = kinds[key] || @subjects[key]

      # @return [Kind]
      # @raise [UnknownKind]
      def kind!(key)
        kinds[key] ||
          raise(
            UnknownKind.new(
              "There is no kind of record #{Show.quoted(key)}; known: #{kinds.keys.join(", ")}.", kind: key
            )
          )
      end

      # @return [Kind, nil] by the name a list has, such as launch_roster
      def list(name) = kinds["entry/#{name}"]

      # @return [Person, nil]
      def person(key) = people[key]

      # @return [Array<Person>] those in a team
      def people_of(team) = people.each_value.select { |person| person.in?(team) }

      # @return [String] a person's name, or the key where nobody has it, or "Yenvo" for nil
      def name_of(key) = key.nil? ? "Yenvo" : (people[key]&.name || key)

      # @return [String, nil] name of the person who has a task, or of the queue in which it waits
      def called(person, queue) = person ? name_of(person) : queue_name(queue)

      # @return [String, nil] also of a queue that is retired
      def queue_name(key) = queues[key] || retired_queues[key]

      # @param queue [String] key
      # @param kind [String, nil] key of the kind of record that a task is about; nil for none
      # @return [String, nil] why the queue does not take such a task
      def queue_refuses(queue, kind)
        taken = queue_kinds[queue]
        return if taken.nil? || taken.include?(kind)

        names = taken.filter_map { |key| kind(key)&.plural&.downcase }
        what = kind ? kind(kind)&.plural&.downcase : "tasks without a record"
        "the queue #{queue_name(queue)} takes #{names.join(" and ")} only, no #{what}"
      end

      # @return [Formula, nil] of a worked-out field; nil when it does not hold
      def formula(kind, field) = @formulas.formula(kind, field)

      # @return [Array<Problem>] what is wrong with the formula of a worked-out field
      def formula_problems(kind, field) = @formulas.problems(kind, field)
    end
  end
end
