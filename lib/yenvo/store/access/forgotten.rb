# frozen_string_literal: true

module Yenvo
  module Store
    # Who has forgotten their password asks the administrators, by the bell. Nobody learns from it who works here: for
    # an address that nobody has the same is done, and taken back.
    class Forgotten < Base
      # @param email [String]
      # @param address [String] from which it was asked
      # @param now [Time]
      def ask(email, address, now:)
        one = db[:people].where(email:, active: true).first
        db.transaction(savepoint: true, rollback: one ? nil : :always) do
          tell("#{one ? one[:name] : email} has forgotten the password, says somebody at #{address}. If it is they, " \
               "make them a link in the set-up, under People.", now)
        end
      end

      private

      # Whoever has not read it yet is not told once more.
      def tell(text, now)
        administrators = db[:people].where(role: "administrator", active: true).select_map(:key)
        told = db[:notices].where(person: administrators, what: "forgotten", read_at: nil, text:).select_map(:person)
        root.notices.add(administrators - told, text, what: "forgotten", at: now)
      end
    end
  end
end
