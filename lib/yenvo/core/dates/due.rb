# frozen_string_literal: true

module Yenvo
  module Core
    # A date that a rule works out. on: local Date; minutes: wall-clock minutes since midnight, or nil for the whole
    # day; moment: Time in UTC from which it is late (the end of the day without a time); moved_from: the Date it would
    # have been if that were no day off, or nil; off: why that is a day off.
    Due =
      Value.define(:on, :minutes, :moment, :moved_from, :off) do
        # @return [String, nil] such as "; Sat 3 Oct is a day off, so it moved to Mon 5 Oct"
        def why_moved = moved_from && "; #{Show.date(moved_from)} is #{off}, so it moved to #{Show.date(on)}"

        def to_h =
          {
            "on" => on.iso8601, "at" => minutes && ClockTime.show(minutes), "moment" => Reading.moment(moment),
            "moved_from" => moved_from&.iso8601, "off" => off
          }
      end
  end
end
