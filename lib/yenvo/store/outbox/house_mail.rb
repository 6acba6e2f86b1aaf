# frozen_string_literal: true

module Yenvo
  module Store
    # Mail of the house itself, such as invitations: whether there is any, from which address, and writing one.
    class HouseMail < Base
      include FormWords
      include Saving

      DESTINATION = Core::Actions::SendMail::DESTINATION
      NO_SERVER = "No mail server is named where Yenvo is started (SMTP_URL), so no mail leaves."
      NO_ADDRESS = "Where Yenvo is started it is not said how people reach it (YENVO_ADDRESS), so mails hold no links."
      NO_FROM = "The house has no address yet from which its mail is sent."

      # @param settings [Settings]
      def initialize(root, settings)
        super(root)
        @settings = settings
      end

      # @return [String, nil]
      def from = root.setup_store.setting("mail_from", nil)

      # @return [Integer, nil] how many mails leave within a minute at most
      def most_per_minute = root.setup_store.setting("mail_per_minute", nil)

      # @return [String, nil] why no mail leaves; nil where it does
      def missing
        return NO_SERVER unless @settings.smtp
        return NO_ADDRESS unless @settings.address

        NO_FROM unless from
      end

      # @return [Hash] from, per_minute and missing
      def to_h = {from:, per_minute: most_per_minute, missing:}

      # @param address [String, nil] blank for none
      # @param per_minute [Integer, nil] nil for as many as there are
      # @raise [Refused]
      def send_from(address, cause:, per_minute: nil)
        plain = address.to_s.strip.empty? ? nil : email(address, "from")
        most = per_minute(per_minute)
        save(cause) { {"mail_from" => plain, "mail_per_minute" => most}.each { root.setup_store.set(_1, _2) } }
      end

      # Writes a mail with a link that lets somebody in, where mail leaves at all.
      # @param person [Hash] row
      # @param path [String] of the link
      # @param invited [Boolean] whether they come for the first time
      # @return [Boolean] whether it was written
      def link(person, path, invited:, cause:)
        return false if missing

        house = root.setup_store.house_name
        subject = invited ? "You are invited to #{house}" : "A new password for #{house}"
        good = invited ? "It is good for seven days and one use." : "It is good for an hour and one use."
        text = "#{person[:name]}, choose your password here:\n\n#{@settings.address}#{path}\n\n#{good}\n\n" \
               "If you do not know #{house}, do nothing."
        add(person[:email], subject, text, cause, secret: true)
        true
      end

      # @return [String]
      def forgotten_subject = "A new password for #{root.setup_store.house_name}"

      # Writes a mail with a link that is made when it leaves.
      # @param name [String, nil]
      # @return [Integer] number of the message
      def forgotten(address, name, cause:)
        house = root.setup_store.house_name
        text = "#{name}, choose your new password here:\n\n#{LINK}\n\nIt is good for an hour and one use.\n\n" \
               "If you have not asked for it at #{house}, do nothing: your password stays as it is."
        content = {"to" => address, "subject" => forgotten_subject, "text" => text, "link" => "password"}
        root.outbox.add("mail", DESTINATION, content, cause:, secret: true)
      end
      # What the link takes the place of.
      LINK = "{link}"

      # Writes one to whoever asks, to see whether mail leaves.
      # @param person [Hash] row
      # @raise [Refused]
      def try(person, cause:)
        refuse("from", missing) if missing

        house = root.setup_store.house_name
        add(person[:email], "Mail of #{house} arrives", "You asked for this in the set-up, under Outbox.", cause)
      end

      private

      def add(to, subject, text, cause, secret: false) =
        root.outbox.add("mail", DESTINATION, {"to" => to, "subject" => subject, "text" => text}, cause:, secret:)
    end
  end
end
