# frozen_string_literal: true

module Yenvo
  module Store
    # Whatever can go wrong with one rule or kit, and is no reason for others to stop: every error but those that say
    # nothing about what was done, such as a database that went away. For +rescue+.
    module Breakage
      LOG = SemanticLogger["Breakage"]

      module_function

      def ===(error) =
        error.is_a?(StandardError) && [*Root::PASSING, Uncertain].none? { |type| error.is_a?(type) }

      # What people are told. What nobody foresaw goes into the log, where those who run Yenvo find it by what it is
      # about.
      # @param error [StandardError]
      # @param about [Hash] what it is about, such as entry: 7
      # @return [String] a sentence
      def sentence(error, **about)
        return error.fields.values.uniq.join(" ") if error.is_a?(Refused) && error.fields.any?
        return error.message if error.is_a?(Core::Error)

        LOG.error("A rule or kit could not be carried out", about, error)
        "Yenvo could not work out what to do. Those who run it find the reason in the log, under " \
        "#{about.map { |name, value| "#{name} #{value}" }.join(", ")}."
      end
    end
  end
end
