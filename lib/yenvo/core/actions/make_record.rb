# frozen_string_literal: true

module Yenvo
  module Core
    module Actions
      # Makes a record, such as a sub-ticket, with fields set or the same as in this record, linked to it.
      class MakeRecord < Action
        def self.takes = {"kind" => :text, "values" => :settings, "same" => :keys, "link" => :text}
        def self.required = %w[kind values]
        def self.words = "Make a record"

        def made_kind = @made

        def plan(facts, now:, rule_name:)
          same = @same.to_h { |key| [key, facts.after[key]] }.compact
          read = @schema.hides? ? facts.read_at([@made, owner(facts, now, rule_name) || same["owner"]]) : facts
          worked = @settings.map { |setting| [setting.field.key, *setting.work_out(read, now:, rule_name:)] }
          values = same.merge(worked.to_h { |key, value, _| [key, value] }).compact
          title = values["title"].to_s
          if title.strip.empty?
            raise Error, "The title of the new #{@made.noun} comes out empty. Give it words that always stand."
          end

          link = settings["link"]
          values[link] = facts.record_id if link
          notes = worked.filter_map(&:last)
          notes << "same as here: #{same.keys.map { |key| @made.field(key).label }.join(", ")}" if same.any?
          [
            effect(
              Effects::MakeRecord, words(title), kind: @made.key, values:,
              link_to: link ? nil : facts.record_id, notes:
            )
          ]
        end

        def shown = "Make a #{@made.noun}"

        private

        # Where records are hidden from some, none is named where another is read.
        def words(title) = "#{@made.label} #{"“#{title}” " unless @schema.hides?}is made"

        def owner(facts, now, rule_name) =
          @settings.find { |setting| setting.field.key == "owner" }&.work_out(facts, now:, rule_name:)&.first

        def check_required(set)
          link = settings["link"]
          missing = @made.own_fields.select { |field| field.required && field.default.nil? }
            .reject { |field| set.include?(field.key) || field.key == link }
          names = missing.map(&:label).join(" and ")
          wrong("values", "must set #{names}, which every #{@made.noun} needs") if missing.any?
        end

        def prepare
          @made = @schema.kind(settings["kind"].to_s)
          return wrong("kind", "must be a kind of record (#{@schema.kinds.keys.join(", ")})") unless @made

          @settings = fields_set(@made)
          @same = settings["same"].to_a
          @same.each_with_index { |key, i| check_same(key, i) }
          set = settings["values"].to_a.map(&:field) + @same
          wrong("values", "must set the title") unless set.include?("title")
          check_required(set)
          check_link
        end

        def check_same(key, index)
          here = @kind.field(key)
          there = @made.field(key)
          fits =
            here && there && !there.worked_out? && here.type == there.type &&
            (!there.built_in || %w[title stage owner].include?(key))
          wrong(["same", index], "must be a field that both have alike; #{key.to_s[0, 60].inspect} is none") unless fits
        end

        def check_link
          return unless settings["link"]

          field = @made.field(settings["link"])
          return if field&.leads_to?(@kind)

          wrong("link", "must be a link field of the new #{@made.noun} that leads to a #{@kind.noun}")
        end
      end
    end
  end
end
