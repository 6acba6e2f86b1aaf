# frozen_string_literal: true

require "prawn"

module Yenvo
  module Core
    module Papers
      # What stands at the top of each paper of the house. name: of the house; lines: of its address; logo: bytes of a
      # PNG or JPEG, or nil.
      Letterhead = Value.define(:name, lines: [], logo: nil)

      class << Letterhead
        MAX_LOGO = 500_000
        MAX_SIDE = 4_000

        # @return [String, nil] what is wrong with a logo
        def logo_problem(bytes)
          return "The logo has at most #{MAX_LOGO / 1_000} kB." if bytes.bytesize > MAX_LOGO

          size = dots(bytes)
          return "The logo has to be a PNG or JPEG picture that is whole." unless size
          return if size.all? { |side| side.between?(1, MAX_SIDE) }

          "The logo has at most #{Show.count(MAX_SIDE)} dots each way; this has #{size.join(" × ")}."
        end

        private

        # @return [Array<Integer>, nil] dots across and down; nil when it cannot be printed
        def dots(bytes)
          type = [Prawn::Images::PNG, Prawn::Images::JPG].find { |one| one.can_render?(bytes) } or return
          picture = type.new(bytes)
          [picture.width, picture.height]
        rescue
          # Whatever a broken picture makes the reader stumble over.
          nil
        end
      end
    end
  end
end
