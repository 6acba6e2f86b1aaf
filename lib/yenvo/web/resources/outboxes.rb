# frozen_string_literal: true

module Yenvo
  module Web
    # What leaves the house, for administrators: each message with its tries, stopped and sent again; and from which
    # address the house sends mail.
    class Outboxes < Base
      before { may.set_up! }

      get("/?") { answer 200, shown }

      put "/from" do
        mail.send_from(body_of_call["from"], cause:)
        root.forget
        answer 200, shown
      end

      post "/try" do
        mail.try(person, cause:)
        answer 201, shown
      end

      get "/:id" do
        row = root.outbox.find!(id)
        tries = root.outbox.tries(id).map { |one| present.plain(one.slice(:at, :sent, :answer)) }
        # Or whoever may read the outbox, such as a program with a token, could let themselves in.
        text = row[:secret] ? Store::Outbox::GONE : JSON.parse(row[:content])["text"]
        answer 200, {message: head(row), text:, tries:}
      end

      post("/:id/stop") { changed { root.outbox.stop(id, cause:) } }
      post("/:id/again") { changed { root.outbox.again(id, cause:) } }

      private

      HEAD = %i[id way to subject state by made_at due_at settled_at tries answer].freeze
      private_constant :HEAD

      def mail = Store::HouseMail.new(root, house.settings)
      def head(row) = present.plain(row.slice(*HEAD))

      def changed
        yield
        answer 200, {message: head(root.outbox.find!(id))}
      end

      def shown
        rows = root.outbox.page(state: params["state"], before: number("before"))
        {
          from: mail.from, missing: mail.missing, counts: root.outbox.counts,
          resting: root.outbox.resting.map { |row| present.plain(row) },
          messages: rows.map { |row| head(row) }, more: rows.size == Store::Outbox::PAGE
        }
      end
    end
  end
end
