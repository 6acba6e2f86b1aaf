# frozen_string_literal: true

module Yenvo
  module Core
    module Kits
      # A record that a task opens when it comes, such as a sub-ticket. kind: key; values: Array of Actions::Setting;
      # same:
      # keys of fields that are the same as in the record of the kit; link: key of the field that leads back to it, or
      # nil for a plain link; kit: key of the kit that the new record gets, or nil.
      Opening =
        Value.define(:kind, :values, :same, :link, :kit) do
          def to_h =
            {
              "kind" => kind, "values" => values.map(&:to_h), "same" => (same unless same.empty?), "link" => link,
              "kit" => kit
            }.compact

          # @return [Actions::Doing] the same as an action
          def doing =
            Actions::Doing.new(
              name: "record", settings: {"kind" => kind, "values" => values, "same" => same, "link" => link}.compact
            )
        end
    end
  end
end
