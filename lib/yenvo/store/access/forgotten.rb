# frozen_string_literal: true

module Yenvo
  module Store
    # Who has forgotten their password gets a link by mail, where the house sends any; else they ask the administrators,
    # by the bell. The link is made when the mail leaves, so that asking takes as long for an address that nobody has.
    # Nobody learns from it who works here: for
    # an address that nobody has the same is done, and taken back by the statement that otherwise tidies up.
    class Forgotten < Base
      WHAT = "forgotten"

      # @param email [String]
      # @param now [Time]
      # @param mail [HouseMail]
      # @return [Boolean] whether links go by mail
      def ask(email, now:, mail:)
        one = db[:people].where(email:, active: true).exclude(program: true).first
        return by_bell(one, email, now) && false if mail.missing

        root.transaction do
          id = mail.forgotten(one ? one[:email] : email, one && one[:name], cause: Journal::Cause.house(now))
          # Asked again, the newest stays alone.
          waits = {state: "waiting", held_till: nil}
          same = db[:deliveries].where(to: email, subject: mail.forgotten_subject, **waits)
          (one ? same.exclude(id:) : same.where(id:)).delete
        end
        true
      end

      private

      def by_bell(one, email, now)
        text = "#{one ? one[:name] : email} has forgotten the password, as somebody says on the sign-in page. If it " \
               "is they, make them a link in the set-up, under People."
        administrators = db[:people].where(role: "administrator", active: true).select_map(:key)
        root.transaction do
          ids = root.notices.add(administrators, text, what: WHAT, at: now)
          # Asked again, the newest stays alone, however often and from wherever it is asked.
          same = db[:notices].where(person: administrators, what: WHAT, read_at: nil, text: text[0, Notices::MOST])
          (one ? same.exclude(id: ids) : same.where(id: ids)).delete
        end
      end
    end
  end
end
