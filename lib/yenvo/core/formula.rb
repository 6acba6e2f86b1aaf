# frozen_string_literal: true

module Yenvo
  module Core
    # A formula over fields, today, linked records and tasks, such as
    # "working_days_between(last_contact, today)" or "count(ticket.boat, stage != 'closed')". It is read with Dentaku
    # and turned into Ruby closures by Formula::Compiler; nothing of it is ever evaluated as Ruby.
    class Formula
      MAX_SOURCE = 500
      MAX_DEPTH = 20
      MAX_NODES = 120
      # Types that a worked-out field can have.
      RESULTS = %w[number money text date datetime yes_no].freeze

      attr_reader :source, :type, :needs, :day, :slide

      # @param type [String, nil] the type that must come out; nil for any
      # @param path [Array] place for problems
      # @param problems [Array<Problem>]
      # @return [Formula, nil] nil when something is wrong
      def self.bind(source, kind, schema, type: nil, path: [], problems: [])
        root = Compiler.new(kind, schema).compile(source)
        wrong = misfit(root, type)
        return problems.push(Problem.at(path, wrong)) && nil if wrong

        new(source, type || plain_type(root), root)
      rescue Unreadable => error
        problems.push(Problem.at(path, error.message)) && nil
      end

      def self.plain_type(root) =
        {
          number: "number", text: "text", date: "date", datetime: "datetime", yes_no: "yes_no", choice: "text",
          person: "person"
        }.fetch(root.type)

      def self.misfit(root, type)
        return "must come to a value; empty alone is none" if root.type == :empty
        if type.nil? || plain_type(root) == type || (plain_type(root) == "number" && type == "money") ||
            (root.type == :choice && type == "text")
          return
        end

        "must come to a #{type.tr("_", " ")}; this comes to a #{plain_type(root).tr("_", " ")}"
      end
      private_class_method :misfit

      def initialize(source, type, root)
        @source = source
        @type = type
        @root = root.call
        @needs = root.needs.uniq.freeze
        @day = root.day
        @slide = (root.slide if root.day && type != "money")
        @show = OUT[type]
        freeze
      end

      # @param facts [Facts]
      # @param image [Hash] the record that it is worked out for
      # @return [Object, nil] plain form
      def call(facts, image)
        value = @root.call(facts, image)
        value.nil? ? nil : @show.call(value)
      rescue Error
        # A calendar without a day to work, say: nothing can be worked out then.
        nil
      end

      # @return [Boolean] whether it may be another on another day
      def day? = @day

      OUT = Hash.new(->(value) { value }).merge(
        "date" => ->(date) { date.year.between?(1, 9999) ? date.iso8601 : nil },
        "datetime" => ->(time) { time.year.between?(1, 9999) ? Reading.moment(time) : nil },
        "number" => ->(number) { Formula.tidy(number, 6) }, "money" => ->(number) { Formula.tidy(number, 2) },
        "text" => ->(text) { Reading.cut(text.to_s) }
      ).freeze
      private_constant :OUT

      # @return [Numeric, nil] rounded; whole where it is whole; nil beyond what a field can hold
      def self.tidy(number, digits)
        return if number.is_a?(Float) && !number.finite?
        return if number.abs > Reading::MAX_NUMBER

        rounded = number.round(digits)
        (rounded == rounded.to_i) ? rounded.to_i : rounded
      end
    end
  end
end
