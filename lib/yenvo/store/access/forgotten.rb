# frozen_string_literal: true

module Yenvo
  module Store
    # Who has forgotten their password asks the administrators, by the bell. Nobody learns from it who works here: for
    # an address that nobody has the same is done, and taken back by the statement that otherwise tidies up.
    class Forgotten < Base
      WHAT = "forgotten"

      # @param email [String]
      # @param now [Time]
      def ask(email, now:)
        one = db[:people].where(email:, active: true).first
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
