# frozen_string_literal: true

module Yenvo
  module Core
    # Says in words what differs between two states of the set-up, each as plain values: thing by thing, with what was
    # before and what is after. It knows no kind of change, so that none goes untold.
    class SetupStory
      # One thing that was changed. what: "setup", "people" or "access"; about: such as "field deal value"; words: such
      # as "changed the field Value of deals"; changes: Array of Hash with label, before and after, both in words or
      # nil.
      Entry = Value.define(:what, :about, :words, :changes)
      # Whatever somebody may not read, and what says nothing to a reader.
      UNTOLD = %w[key position].freeze
      PARTS = {
        "kinds" => "setup", "fields" => "setup", "people" => "people", "teams" => "setup", "queues" => "setup",
        "settings" => "setup", "addresses" => "setup", "texts" => "setup", "papers" => "setup",
        "letterhead" => "setup", "forms" => "setup", "doors" => "setup", "mail_doors" => "setup"
      }.freeze
      DAYS = %w[Sunday Monday Tuesday Wednesday Thursday Friday Saturday Sunday].freeze
      LONGEST = 300

      # @param before, after [Hash{String => Hash{String => Hash}}] part to key to plain values
      # @param names [Proc] part and key to what it is called
      # @return [Array<Entry>]
      def self.tell(before, after) = new(before, after).tell

      def initialize(before, after)
        @before = before
        @after = after
      end

      def tell
        PARTS.keys.flat_map do |part|
          was, is = @before.fetch(part, {}), @after.fetch(part, {})
          (was.keys | is.keys).filter_map { |key| entry(part, key, was[key], is[key]) }
        end
      end

      private

      def entry(part, key, was, is)
        changes = changes(was || {}, is || {})
        return if changes.empty? && was && is

        words = "#{verb(was, is)} #{thing(part, key, was, is)}"
        Entry.new(what: of_access?(part, changes) ? "access" : PARTS[part], about: "#{part} #{key}", words:, changes:)
      end

      def verb(was, is)
        return "added" if was.nil?

        is.nil? ? "removed" : "changed"
      end

      def of_access?(part, changes) = part != "people" && changes.any? { |one| ACCESS.include?(one[:label]) }
      ACCESS = ["seen by", "changed by", "taken away by", "kept"].freeze
      private_constant :ACCESS

      def thing(part, key, was, is)
        row = is || was
        case part
        when "kinds" then "#{key.start_with?("entry/") ? "the list" : "the records"} #{row["plural"]}"
        when "fields" then "the field #{row["label"]} of #{of_kind(row["kind"])}"
        when "people" then row["name"].to_s
        when "teams" then "the team #{row["name"]}"
        when "addresses" then "the address #{row["name"]}"
        when "texts", "papers", "forms", "doors" then "the #{part.delete_suffix("s")} #{row["name"]}"
        when "mail_doors" then "the address for mail #{row["name"]}"
        when "letterhead" then "the letterhead"
        when "queues" then "the queue #{row["name"]}"
        else "the setting #{key.tr("_", " ")}"
        end
      end

      def of_kind(key) = [@after, @before].filter_map { |state| state.dig("kinds", key, "plural") }.first || key

      def changes(was, is)
        differing(was, is).map do |name|
          {
            label: LABELS.fetch(name) {
              name.tr("_", " ")
            }, before: shown(name, was[name]), after: shown(name, is[name])
          }
        end
      end

      def differing(was, is)
        names = (was.keys | is.keys - UNTOLD).reject { |name| was[name] == is[name] }
        # Of something new only what it has is told.
        was.empty? ? names.select { |name| is[name] } : names
      end
      LABELS = {
        "label" => "name of one", "plural" => "name of many", "stage_label" => "name of its stages",
        "links_to" => "leads to",
        "removed" => "taken away", "team" => "work counts for", "active" => "works here", "hours" => "hours",
        "week" => "hours of their own", "email" => "e-mail", "retired" => "retired", "told" => "how told",
        "default_value" => "begins with", "unique" => "each stands once"
      }.freeze
      private_constant :LABELS

      # @return [String, nil]
      def shown(name, value)
        text =
          case value
          when nil, [], {} then return
          when true then "yes"
          when false then "no"
          when Hash then value.map { |key, one| "#{DAYS.fetch(key.to_i, key)} #{span(one)}" }.join(", ")
          when Array then value.map { |one| item(name, one) }.join(", ")
          else named(name, value)
          end
        (text.size > LONGEST) ? "#{text[0, LONGEST]} …" : text
      end

      def span(times) = times.map { |minutes| ClockTime.show(minutes) }.join("–")

      def item(name, one)
        case one
        when Hash then [one["name"], one.values_at("from", "to").compact.uniq.join(" to ")].compact.join(" ")
        when Array then (name == "absences") ? one.join(" to ") : one.last.to_s
        else named(name, one)
        end
      end

      def named(name, value)
        part = {"team" => "teams", "teams" => "teams", "kinds" => "kinds", "links_to" => "kinds"}[name]
        row = part && [@after, @before].filter_map { |state| state.dig(part, value) }.first
        row ? row["plural"] || row["name"] : value.to_s
      end
    end
  end
end
