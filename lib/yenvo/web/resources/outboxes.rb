# frozen_string_literal: true

module Yenvo
  module Web
    # What leaves the house, for administrators: each message with its tries, stopped and sent again; and from which
    # address the house sends mail.
    class Outboxes < Base
      before { may.set_up! }

      get("/?") { answer 200, shown }

      put "/from" do
        mail.send_from(body_of_call["from"], per_minute: body_of_call["per_minute"], cause:)
        root.forget
        answer 200, shown
      end

      post "/try" do
        mail.try(person, cause:)
        answer 201, shown
      end

      # All that failed at one destination.
      post "/again" do
        answer 200, {again: root.outbox.all_again(body_of_call["destination"], cause:)}
      end

      get "/:id" do
        row = root.outbox.find!(id)
        tries = root.outbox.tries(id).map { |one| present.plain(one.slice(:at, :sent, :answer)) }
        letters = present.letters(root.letters.of_delivery(id))[:rows]
        answer 200, {message: heads([row])[0], **present.content(row), tries:, letters:}
      end

      post("/:id/stop") { changed { root.outbox.stop(id, cause:) } }
      post("/:id/again") { changed { root.outbox.again(id, cause:) } }

      private

      # What can be asked for, by the name in the address.
      COLUMNS = {
        "state" => :state, "destination" => :destination, "rule" => :rule_id, "record" => :record_id,
        "run" => :run_id
      }.freeze
      private_constant :COLUMNS

      def mail = Store::HouseMail.new(root, house.settings)
      def heads(rows) = present.messages(rows)

      def changed
        yield
        answer 200, {message: heads([root.outbox.find!(id)])[0]}
      end

      def page
        where = COLUMNS.filter_map { |name, column| [column, params[name]] unless params[name].to_s.empty? }.to_h
        # What came back had been sent.
        back = where.delete(:state) if where[:state] == "back"
        root.outbox.page(where:, back: !back.nil?, from: midnight("from"), till: midnight("till", 1),
          before: number("before"))
      end

      def resting = root.outbox.resting.map { |row| present.plain(row).merge(name: present.destination(row)) }

      def shown
        rows = page
        {
          stand_ins: !house.settings.standins.nil?, **mail.to_h, counts: root.outbox.counts, resting:,
          destinations: present.destinations(root.outbox.failed_by_destination),
          messages: heads(rows), more: rows.size == Store::Outbox::PAGE
        }
      end
    end
  end
end
