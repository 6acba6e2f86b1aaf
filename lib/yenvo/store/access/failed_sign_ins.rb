# frozen_string_literal: true

require "openssl"

module Yenvo
  module Store
    # Failed tries to sign in, by e-mail address and the address they come from, whether anybody has that e-mail or not.
    # After some the next has to wait, longer each time; who signs in from elsewhere does not. Kept in a fixed number of
    # slots, as Counts are.
    class FailedSignIns < Base
      keeps :failed_sign_ins

      SLOTS = 262_144
      FREE = 5
      FIRST_PAUSE = 15
      MAX_PAUSE = 3_600
      # A failure is forgotten after a day without another.
      KEPT = 86_400
      # Whoever is tried for is told at most so often.
      TOLD_EVERY = 3_600

      # @return [Integer, nil] seconds that the next try has to wait
      def pause(email, address, now:)
        ends = table.where(slot: slot(email, address)).get(:until_at)
        (ends - now).ceil if ends && ends > now
      end

      # Counts a failure. The person whose sign-in it is hears of it when a pause begins.
      # @param person [String, nil] key
      def note(email, address, now:, person: nil)
        root.transaction do
          row = table.where(slot: slot(email, address)).for_update.first
          failures = (row && row[:last_at] > now - KEPT) ? row[:failures] + 1 : 1
          ends = (failures < FREE) ? nil : now + [FIRST_PAUSE * (2**[failures - FREE, 20].min), MAX_PAUSE].min
          table.on_duplicate_key_update(:failures, :last_at, :until_at).insert(
            slot: slot(email, address), failures:, last_at: now, until_at: ends
          )
          tell(person, failures, address, now) if person && ends
        end
      end

      # Forgets them, after the right password.
      def forget(email, address) = table.where(slot: slot(email, address)).delete

      private

      def slot(email, address) =
        OpenSSL::HMAC.digest("SHA256", root.secret, "#{email.to_s.downcase}\0#{address}").unpack1("L") % SLOTS

      def tell(person, failures, address, now)
        return unless db[:notices].where(person:, what: "sign_in").where(Sequel[:at] > now - TOLD_EVERY).empty?

        root.notices.add(
          [person],
          "#{failures} tries to sign in as you from #{address} have failed. If it was not you, tell an administrator.",
          at: now, what: "sign_in"
        )
      end
    end
  end
end
