# frozen_string_literal: true

require "yaml"

module Yenvo
  module Store
    # A set-up written down as a file: teams, queues and kinds of records with their stages and fields. The house that
    # is opened begins with one, and so does the demo.
    class HousePlan < Base
      FIRST = File.join(__dir__, "first_house.yml")

      # @param path [String]
      # @return [Hash{String => Object}]
      def self.file(path = FIRST) = YAML.safe_load_file(path)

      # Writes teams, queues and kinds into an empty house, in the caller's transaction.
      # @param plan [Hash{String => Object}] as in a file
      # @param currency [String, nil] sign of it, for sums of which the file does not say
      def write(plan, currency: nil)
        plan["teams"].each { |key, name| db[:teams].insert(key:, name:) }
        plan["queues"].each { |key, (name, team)| db[:queues].insert(key:, name:, team:) }
        plan["kinds"].each_with_index do |(key, kind), position|
          root.setup_store.add_kind(kind_of(key, kind, currency), position:)
        end
      end

      private

      def kind_of(key, plain, currency)
        label, plural, stage_label = plain["names"]
        Core::Schema::Kind.new(
          key:, label:, plural:, stage_label:,
          stages: plain["stages"].map { |stage, words| Core::Schema::Choice.new(key: stage, label: words) },
          fields: plain["fields"].map { |name, (words, type, more, formula)|
            field(name, words, type, more, formula, currency)
          }
        )
      end

      def field(name, words, type, more, formula, currency)
        case type
        when "choice", "choices" then Core::Schema::Field.of(name, words, type, choices: more.to_a)
        when "link" then Core::Schema::Field.of(name, words, type, links_to: more)
        when "money" then Core::Schema::Field.of(name, words, type, unit: more || currency, formula:)
        else Core::Schema::Field.of(name, words, type, unit: more, formula:)
        end
      end
    end
  end
end
