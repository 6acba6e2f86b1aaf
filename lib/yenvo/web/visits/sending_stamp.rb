# frozen_string_literal: true

require "openssl"
require "securerandom"

module Yenvo
  module Web
    # Goes along with a form that is given out, and comes back with what is sent: says when it was given out, and makes
    # the same sending, sent twice, known again. Nobody else can make one.
    class SendingStamp
      # Seconds: nobody fills a form in faster, and a page that stood open longer is looked at once more.
      LEAST = 2
      MOST = 86_400
      AGAIN = "Look it over, then send it once more."

      # @param secret [String]
      # @param address [String] of the form
      def initialize(secret, address)
        @secret = secret
        @address = address
      end

      # @param now [Time]
      # @return [String]
      def make(now, once: SecureRandom.alphanumeric(22)) = "#{now.to_i}.#{once}.#{sign(now.to_i, once)}"

      # @param stamp [String]
      # @return [Array(String, String), Array(nil, String)] what it is known by, or why it is not taken
      def read(stamp, now)
        at, once, sign = stamp.to_s.split(".", 3)
        good = sign && Rack::Utils.secure_compare(sign, sign(at, once))
        age = good && now.to_i - at.to_i
        return [nil, "This page had stood open for too long. #{AGAIN}"] if !good || age > MOST
        return [nil, "That was very quick. #{AGAIN}"] if age < LEAST

        [once, nil]
      end

      # @return [String] the same as long as it is of use, so that what is put right in a moment is not too quick
      def renew(stamp, now) = (read(stamp, now + LEAST)[0] && stamp) || make(now)

      private

      def sign(at, once) = OpenSSL::HMAC.hexdigest("SHA256", @secret, signed(at, once))[0, 32]
      def signed(at, once) = "form #{@address} #{at} #{once}"
    end
  end
end
