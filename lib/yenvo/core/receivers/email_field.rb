# frozen_string_literal: true

module Yenvo
  module Core
    module Receivers
      # The address in an e-mail field of the record or of a linked one, such as boat_owner.email.
      class EmailField < Assignment::Way
        def self.takes = {"field" => :path}
        def self.words = "an e-mail field"

        def persons? = false

        def check(path, problems)
          found, wrong = Reference.find(settings["field"], @kind, @schema)
          wrong ||= "must be an e-mail field; #{found.label} is none" unless found&.field&.type == "email"
          problems << Problem.at([*path, "field"], wrong) if wrong
        end

        def receivers(facts)
          address = (@get ||= reference.getter).call(facts)
          return [Receiver.new(name: named(address), address:)] if Receiver.good?(address)

          why = address.nil? ? "#{described} is empty" : "what stands in #{described} is no address"
          [Receiver.new(name: described, address:, why:)]
        end

        def references = [reference].compact
        def described = @described ||= reference.label

        private

        # Where records are hidden from some, none is named where another is read.
        def named(address) = @schema.veils? ? described : address

        def reference = @reference ||= Reference.find(settings["field"], @kind, @schema).first
      end
    end
  end
end
