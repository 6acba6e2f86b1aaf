# frozen_string_literal: true

module Yenvo
  module Core
    module Effects
      # What every step of a plan can be asked, whichever its verb.
      module Step
        # For the classes of verbs.
        module Named
          # @param world [Object] that knows how each verb is taken back
          # @param did [Hash] what +carry_out+ gave
          # @return [Array] what was taken back and what stays
          def take_back(world, did) = world.public_send(:"#{self::VERB}_back", did)
        end

        def self.included(type) = type.extend(Named)

        def verb = self.class::VERB

        # @param world [Object] that knows all verbs
        # @return [Hash] what it did, in plain values
        def carry_out(world) = world.public_send(verb, self)

        # @return [Boolean] whether it makes tasks about the record, by itself or by a kit, and touches nothing else
        def plain? = false

        # @return [Boolean] whether it begins a kit on the record of the rule, whose tasks can be written like others
        def own_kit? = false

        # @return [Integer] tasks that it makes
        def task_count = 0

        # @return [Hash{String => Object}] fields of its record that it sets
        def values = {}

        # @return [Hash{String => String}, nil] why the record must not be saved, by field
        def refusal = nil

        # @return [Hash, nil] the message that it writes, as people read it
        def message = nil

        # @return [Due, nil] when what it makes is due
        def due = nil

        # @param row [String] label of the row
        # @param number [Integer] of the action
        # @return [Hash] as a run keeps it
        def kept(row, number)
          {
            "row" => row, "number" => number, "action" => action, "verb" => verb, "title" => words, "reason" => reason,
            "notes" => notes, "due" => task_count.positive? ? due&.to_h : nil
          }
        end
      end
    end
  end
end
