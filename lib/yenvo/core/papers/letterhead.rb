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
        # Of a picture with a transparent ground each dot is looked at whenever a paper is printed.
        MAX_DOTS = 300_000

        NO_PICTURE = "The logo has to be a PNG or JPEG picture that is whole, and a PNG not interlaced."
        private_constant :NO_PICTURE

        # @return [String, nil] what is wrong with a logo
        def logo_problem(bytes)
          return "The logo has at most #{MAX_LOGO / 1_000} kB." if bytes.bytesize > MAX_LOGO

          size = dots(bytes)
          large(size) || (NO_PICTURE unless size && printed?(bytes))
        end

        private

        # @param size [Array<Integer>, nil] dots across and down
        def large(size)
          return if size.nil? || size.inject(:*) <= MAX_DOTS

          "The logo has at most #{Show.count(MAX_DOTS)} dots, such as 1,000 × 300; this has #{size.join(" × ")}."
        end

        # There are pictures that are whole and still cannot be printed.
        def printed?(bytes)
          Prawn::Document.new.image(StringIO.new(bytes), at: [0, 0])
        rescue *BROKEN
          nil
        end
        BROKEN = [Prawn::Errors::UnsupportedImageType, Zlib::Error, NoMethodError].freeze
        private_constant :BROKEN

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
