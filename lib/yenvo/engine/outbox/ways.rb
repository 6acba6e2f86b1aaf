# frozen_string_literal: true

module Yenvo
  module Engine
    # The ways on which messages leave, by their names in the outbox.
    module Ways
      # @param settings [Settings]
      # @param links [#call, nil] see MailWay
      # @return [Hash{String => #send_off}]
      def self.of(root, settings, clock, links: nil)
        # Whoever checks a signature asks whether its moment is near; the clock of a demo may be far ahead.
        real = Clock.new(start: settings.clock_start)
        mail = settings.smtp && MailWay.new(root, settings.smtp, clock:, house: settings.address, links:)
        post = Post.new(Outside.new(settings.inside), clock:)
        {
          "mail" => mail, "board" => BoardWay.new(root, post),
          "call" => CallWay.new(root, post, source: settings.address, clock: real)
        }.compact
      end
    end
  end
end
