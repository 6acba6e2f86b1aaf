# frozen_string_literal: true

module Yenvo
  module Core
    module Receivers
      # An address as it is written.
      class FixedAddress < Assignment::Way
        def self.takes = {"address" => :text}
        def self.words = "this address"

        def persons? = false

        def check(path, problems)
          return if Receiver.good?(settings["address"])

          given = Show.quoted(settings["address"])
          problems << Problem.at([*path, "address"], "must be an address such as name@example.org; #{given} is none")
        end

        def receivers(_facts) = [Receiver.new(name: described, address: described)]
        def described = settings["address"].to_s
      end
    end
  end
end
